package dev.dusky.formats;

import java.io.IOException;
import java.util.List;

/** Decodes a file's row groups, each for itself. Safe for use by several threads. */
interface GroupDecoder extends AutoCloseable {

  /** One row group being decoded. */
  interface Run extends AutoCloseable {

    /** Fills the next rows; false if the group has no more. */
    boolean next(TypedRows rows) throws IOException;

    @Override
    void close() throws IOException;
  }

  /** How many row groups there are. */
  int groups();

  /** Rows of the right types. */
  TypedRows newRows();

  /** The names of the fields, as asked for. */
  List<String> names();

  /** Begins a row group, counted from 0. */
  Run open(int group) throws IOException;

  @Override
  void close() throws IOException;
}
