package dev.dusky.warehouses.posting;

import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.table.TableRule;
import dev.dusky.warehouses.connection.SqlFailures;
import java.sql.SQLException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Decides whether an error of the database is the fault of one row, and says it in our words. */
public final class RowRefusal {

  /** Our own state for rows that a trigger leaves out without an error. */
  public static final String LEFT_OUT = "P0LEF";

  /**
   * The classes of SQL states in which a database says that a row is at fault: integrity constraint
   * violation, data exception, check option violation, and errors raised by triggers of H2 and of
   * PostgreSQL.
   */
  public static final Set<String> CLASSES = Set.of("23", "22", "44", "45", "P0");

  private RowRefusal() {}

  /** Whether the error means that a row was refused. */
  public static boolean is(SQLException e) {
    String state = e.getSQLState() == null ? "" : e.getSQLState();
    return state.length() == 5 && CLASSES.contains(state.substring(0, 2))
        || state.equals("90044"); // a trigger of H2 failed
  }

  /** The problem that such an error describes. */
  public static Problem problem(SQLException e, List<TableRule> rules) {
    String message = SqlFailures.firstLine(e).replaceFirst("^ERROR: ", "");
    Optional<TableRule> rule =
        rules.stream().filter(r -> !r.name().isEmpty() && names(message, r.name())).findFirst();
    String column = rule.map(r -> String.join(", ", r.columns())).orElse("");
    return new Problem(code(e), column, "", "the table refuses it: " + message);
  }

  private static boolean names(String message, String constraint) {
    return message.toLowerCase(Locale.ROOT).contains(constraint.toLowerCase(Locale.ROOT));
  }

  private static RejectCode code(SQLException e) {
    return switch (e.getSQLState()) {
      case "23505" -> RejectCode.KEY_TAKEN;
      case "23503", "23506" -> RejectCode.UNKNOWN_KEY;
      case "23513", "23514" -> RejectCode.FAILED_CONSTRAINT;
      case "23502" -> RejectCode.NULL_VALUE;
      case LEFT_OUT -> RejectCode.LEFT_OUT;
      case "23P01" -> RejectCode.OVERLAPPING;
      default -> RejectCode.REFUSED_BY_TABLE;
    };
  }
}
