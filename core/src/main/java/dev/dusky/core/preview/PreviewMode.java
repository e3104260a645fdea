package dev.dusky.core.preview;

/** Which records of a file to look at. */
public enum PreviewMode {
  FIRST,
  LAST,
  RANDOM,
  /** None; only count them. */
  COUNT
}
