package dev.dusky.core.feed;

/** Where in a record a column's value is. */
public sealed interface FieldSource {

  /** In the field under this header name, or at this path. */
  record Named(String name) implements FieldSource {
    @Override
    public String toString() {
      return name;
    }
  }

  /** In the field at this position, from 1. */
  record At(int position) implements FieldSource {
    @Override
    public String toString() {
      return "field " + position;
    }
  }

  /** In the next field that no other column names. */
  record Next() implements FieldSource {
    @Override
    public String toString() {
      return "the next field";
    }
  }

  /** Nowhere in this file, although the feed has a field for it. */
  record Absent() implements FieldSource {
    @Override
    public String toString() {
      return "nowhere";
    }
  }

  /** All that has its own column, as JSON. */
  record Leftovers() implements FieldSource {
    @Override
    public String toString() {
      return "the leftovers";
    }
  }

  /** Not in the record at all, but in its file's path, or known of file, record and load. */
  record OfFile(String fact) implements FieldSource {
    @Override
    public String toString() {
      return "{" + fact + "}";
    }
  }
}
