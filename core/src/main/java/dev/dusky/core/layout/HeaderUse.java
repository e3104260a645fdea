package dev.dusky.core.layout;

/** The meaning of the first record of a delimited file. */
public enum HeaderUse {
  /** There is no header: the first record is data, columns go by position. */
  ABSENT,
  /** There is a header, which is skipped: columns go by position. */
  SKIP,
  /** The header names the columns, which may come in any order. */
  NAMES
}
