package dev.dusky.warehouses;

import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.RejectState;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Which rejects are meant. Each part narrows the choice.
 *
 * @param feed of this feed
 * @param column with a problem in this column
 * @param code with a problem of this code
 * @param path of this file
 * @param loadId found by this load
 * @param ids these numbers; empty for any
 * @param state in this state; empty for any
 */
public record RejectChoice(
    Optional<String> feed,
    Optional<String> column,
    Optional<RejectCode> code,
    Optional<String> path,
    Optional<Long> loadId,
    List<Long> ids,
    Optional<RejectState> state) {

  /** All open ones, of one feed or of all. */
  public static RejectChoice open(Optional<String> feed) {
    return new RejectChoice(
        feed,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        List.of(),
        Optional.of(RejectState.OPEN));
  }

  /** These numbers, whatever their state. */
  public static RejectChoice ids(List<Long> ids) {
    return new RejectChoice(
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        ids,
        Optional.empty());
  }

  /** The condition on r (reject) and f (file), with a question mark for each parameter. */
  String condition() {
    List<String> parts = new ArrayList<>(List.of("1 = 1"));
    feed.ifPresent(x -> parts.add("f.feed = ?"));
    path.ifPresent(x -> parts.add("f.path = ?"));
    loadId.ifPresent(x -> parts.add("r.load_id = ?"));
    state.ifPresent(x -> parts.add("r.state = ?"));
    if (!ids.isEmpty()) {
      parts.add("r.reject_id = any(?)");
    }
    if (column.isPresent() || code.isPresent()) {
      parts.add(
          "exists (select 1 from dusky.reject_problem q where q.reject_id = r.reject_id"
              + column.map(x -> " and q.column_name = ?").orElse("")
              + code.map(x -> " and q.code = ?").orElse("")
              + ")");
    }
    return String.join(" and ", parts);
  }

  /** The parameters, in the condition's order. */
  List<Object> parameters() {
    List<Object> values = new ArrayList<>();
    feed.ifPresent(values::add);
    path.ifPresent(values::add);
    loadId.ifPresent(values::add);
    state.ifPresent(s -> values.add(s.label()));
    if (!ids.isEmpty()) {
      values.add(ids.toArray(Long[]::new));
    }
    column.ifPresent(values::add);
    code.ifPresent(c -> values.add(c.label()));
    return values;
  }
}
