package dev.dusky.warehouses.connection;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.warehouse.DatabaseSettings;
import java.sql.BatchUpdateException;
import java.sql.SQLException;
import java.util.regex.Pattern;

/** Turns what a database refuses into failures with a remedy. */
public final class SqlFailures {

  private static final Pattern BATCH =
      Pattern.compile("^Batch entry \\d+ .*? was aborted: ", Pattern.DOTALL);

  private final DatabaseSettings address;
  private final Dialect dialect;
  private volatile boolean lost;

  SqlFailures(DatabaseSettings address, Dialect dialect) {
    this.address = address;
    this.dialect = dialect;
  }

  /** The failure of what was being done, such as "Reading table a.b". */
  public Failure of(String doing, SQLException e) {
    lost |= dialect.isLost(e);
    return dialect.explain(address, doing, e).orElseGet(() -> byState(doing, e)).from(e);
  }

  /** Whether the database is beyond use in this process, so that nothing more is asked of it. */
  public boolean lost() {
    return lost;
  }

  private Failure byState(String doing, SQLException e) {
    String state = e.getSQLState() == null ? "" : e.getSQLState();
    String message = firstLine(e);
    Failure failure = Failure.warehouse(doing + " failed").because(message);
    if (broken(e)) {
      return Failure.warehouse("The warehouse " + address.url() + " does not answer")
          .because(message)
          .hint(
              "Unfinished work was rolled back. Check that it is running and reachable, then run again");
    }
    if (conflict(e)) {
      return Failure.warehouse(doing + " conflicts with another transaction on the same rows")
          .because(message)
          .hint("Unfinished work was rolled back. Run again")
          .asPassing();
    }
    if (state.startsWith("28")) {
      return Failure.warehouse("The warehouse " + address.url() + " refuses this user")
          .because(message)
          .hint("Check user and password under warehouse in the configuration");
    }
    if (state.startsWith("53")) {
      return failure.hint(
          "The server is out of space, memory or connections. Unfinished work was rolled back");
    }
    if (state.equals("42501")) {
      return failure.hint("Grant the user that right, then run again");
    }
    return failure.hint("Unfinished work was rolled back");
  }

  /** Whether two transactions stood in each other's way, and one had to give in. */
  public static boolean conflict(SQLException e) {
    String state = e.getSQLState() == null ? "" : e.getSQLState();
    return state.equals("40P01") || state.equals("40001");
  }

  /** Whether the connection is gone with this. */
  public static boolean broken(SQLException e) {
    String state = e.getSQLState() == null ? "" : e.getSQLState();
    return state.startsWith("08") || state.matches("57P0[1-4]");
  }

  /** The first line of an exception's message, without what the driver adds behind it. */
  public static String firstLine(Throwable e) {
    // What a driver says of a batch begins with the whole statement, values included.
    SQLException next = e instanceof BatchUpdateException batch ? batch.getNextException() : null;
    String message = String.valueOf((next == null ? e : next).getMessage());
    message = BATCH.matcher(message).replaceFirst("");
    String first = message.lines().findFirst().orElse(message).strip();
    return first.replaceFirst("; SQL statement:$", "");
  }
}
