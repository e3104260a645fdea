package dev.dusky.formats;

import java.io.IOException;
import java.util.List;

/** Decodes a file of row groups column by column. */
interface GroupDecoder extends AutoCloseable {

  /** Decodes some of the columns, one row group after the other, for one thread. */
  interface Share extends AutoCloseable {

    /** Rows of which these columns can be filled. */
    TypedRows newRows();

    /** Begins a row group, counted from 0. */
    void begin(int group) throws IOException;

    /** Fills the next rows of the group; false if it has no more. */
    boolean next(TypedRows rows) throws IOException;

    @Override
    void close() throws IOException;
  }

  /** How many row groups there are. */
  int groups();

  /** The names of the columns, as asked for. */
  List<String> names();

  /**
   * Divides the columns among at most that many threads, so that each has about the same work. All
   * shares give runs of the same numbers of rows.
   */
  List<int[]> shares(int most);

  /** Opens one of the shares. */
  Share open(int[] columns) throws IOException;

  @Override
  void close() throws IOException;
}
