package dev.dusky.core.layout;

import java.util.List;

/** A declared way to read a file's bytes as records. Each kind is its own record. */
public sealed interface Layout
    permits DelimitedLayout, FixedLayout, JsonLayout, XmlLayout, ColumnarLayout, WorkbookLayout {

  /** The name under which the configuration declares it. */
  String name();

  /** The name in the configuration's key {@code kind}. */
  String kind();

  /** How the columns of a feed find their fields. */
  FieldNaming naming();

  /** The largest record accepted, in bytes. */
  int recordLimit();

  /** Texts that mean null. */
  List<String> nulls();

  /**
   * Whether null marks apply to values that are marked as text too: quoted fields, JSON strings.
   */
  boolean nullsInQuotes();
}
