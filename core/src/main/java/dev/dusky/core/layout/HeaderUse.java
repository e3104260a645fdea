package dev.dusky.core.layout;

/** What the first record of a delimited file is. */
public enum HeaderUse {
  /** There is no header: the first record is data, columns go by position. */
  ABSENT,
  /** There is a header, which is passed over: columns go by position. */
  SKIP,
  /** The header names the columns, which may come in any order. */
  NAMES
}
