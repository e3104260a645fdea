package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.RejectChoice;
import java.util.ArrayList;
import java.util.List;
import org.jdbi.v3.core.statement.SqlStatement;

/**
 * The SQL condition of a choice of rejects, on r (dusky.reject) and f (dusky.file).
 *
 * @param choice the choice
 */
record RejectCondition(RejectChoice choice) {

  /** The condition, with a named parameter for each part that is given. */
  String sql() {
    List<String> parts = new ArrayList<>(List.of("1 = 1"));
    choice.feed().ifPresent(x -> parts.add("f.feed = :feed"));
    choice.path().ifPresent(x -> parts.add("f.path = :path"));
    choice.loadId().ifPresent(x -> parts.add("r.load_id = :load"));
    choice.state().ifPresent(x -> parts.add("r.state = :state"));
    if (!choice.ids().isEmpty()) {
      parts.add("r.reject_id = any(:ids)");
    }
    if (choice.column().isPresent() || choice.code().isPresent()) {
      parts.add(
          "exists (select 1 from dusky.reject_problem q where q.reject_id = r.reject_id"
              + choice.column().map(x -> " and q.column_name = :column").orElse("")
              + choice.code().map(x -> " and q.code = :code").orElse("")
              + ")");
    }
    return String.join(" and ", parts);
  }

  /** Binds the parameters of {@link #sql}. */
  <S extends SqlStatement<S>> S bind(S statement) {
    choice.feed().ifPresent(x -> statement.bind("feed", x));
    choice.path().ifPresent(x -> statement.bind("path", x));
    choice.loadId().ifPresent(x -> statement.bind("load", x));
    choice.state().ifPresent(x -> statement.bind("state", x.label()));
    if (!choice.ids().isEmpty()) {
      statement.bindArray("ids", Long.class, choice.ids());
    }
    choice.column().ifPresent(x -> statement.bind("column", x));
    choice.code().ifPresent(x -> statement.bind("code", x.label()));
    return statement;
  }
}
