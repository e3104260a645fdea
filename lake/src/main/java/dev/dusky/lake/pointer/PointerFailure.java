package dev.dusky.lake.pointer;

import java.sql.SQLException;

/** The database of the pointers refused a statement. Nothing is tried again in its transaction. */
public final class PointerFailure extends RuntimeException {

  private static final long serialVersionUID = 1;

  PointerFailure(SQLException cause) {
    super(cause.getMessage(), cause);
  }

  /** What the database said. */
  public SQLException refusal() {
    return (SQLException) getCause();
  }
}
