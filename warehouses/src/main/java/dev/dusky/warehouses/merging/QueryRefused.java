package dev.dusky.warehouses.merging;

/** A query that cannot be: its text is at fault, and not the place where it would run. */
public final class QueryRefused extends Exception {

  private static final long serialVersionUID = 1;

  /** Refused for that reason. */
  public QueryRefused(String why, Throwable cause) {
    super(why, cause);
  }
}
