package dev.dusky.core.usage;

import java.util.Locale;

/** The kinds of requests to an object store, as stores charge for them. */
public enum Request {
  /** A page of a listing. */
  LIST,
  /** Reading an object, part of it, or its properties. */
  GET,
  /** Storing an object or a part of one, or beginning and completing parts. */
  PUT,
  /** Copying within the store. */
  COPY,
  /** Removing an object. */
  DELETE;

  /** The kind as shown and configured. */
  public String label() {
    return name().toLowerCase(Locale.ROOT);
  }
}
