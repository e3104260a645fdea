package dev.dusky.core.look;

/** Which records of a file to look at. */
public enum LookMode {
  FIRST,
  LAST,
  RANDOM,
  /** None; only count them. */
  COUNT
}
