package dev.dusky.core.warehouse;

import java.util.List;

/** Receives the result of a SQL statement as it arrives. */
public interface ResultTaker {

  /** The columns, once, before any row. */
  void columns(List<String> names, List<Boolean> numeric);

  /** A row: each value null, a number, a boolean, or text. */
  void row(List<Object> values);

  /** The number of rows that a statement without a result changed. */
  void changed(long rows);
}
