package dev.dusky.core.layout;

/** How the columns of a feed find their fields in a record. */
public enum FieldNaming {
  /** By the names in the file's own header; what the feed does not know refuses the file. */
  HEADER,
  /** By names that the layout declares. */
  DECLARED,
  /** By position alone. */
  POSITION,
  /** By paths into each record, asked for one by one; what is not there is null. */
  PATH
}
