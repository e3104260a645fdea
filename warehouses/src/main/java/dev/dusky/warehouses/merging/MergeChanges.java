package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.MergeChange;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.type.TypeKind;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.script.MergePlan;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * The changes of a merge in its target: the rows as they were are kept in a scratch table and
 * compared with those that are there afterwards, so that it shows what happened and not what was
 * intended.
 */
final class MergeChanges {

  private final MergeWork work;
  private final MergePlan plan;
  private final List<MergeChange> shown = new ArrayList<>();
  private long all;

  MergeChanges(MergeWork work, MergePlan plan) {
    this.work = work;
    this.plan = plan;
  }

  /** Keeps the rows that the merge may change. */
  void before(boolean whole) throws SQLException {
    String touched =
        whole
            ? ""
            : " where (%s) in (select %s from dusky_batch b)"
                .formatted(list("t", plan.keyNames()), list("b", plan.keyNames()));
    work.make(
        "dusky_before",
        "select t.* from %s t%s".formatted(Identifiers.quote(plan.merge().into()), touched));
  }

  /** Finds all that changed, and keeps at most that many of each kind to show. */
  void after(long most) throws SQLException {
    List<String> names = plan.target().columns().stream().map(TableColumn::name).toList();
    String into = Identifiers.quote(plan.merge().into());
    String id =
        identity().stream()
            .map(c -> "a.%s = b.%s".formatted(Identifiers.quote(c), Identifiers.quote(c)))
            .collect(Collectors.joining(" and "));
    String differ =
        plan.target().columns().stream()
            .map(MergeChanges::comparable)
            .map(c -> c.formatted("a") + " is distinct from " + c.formatted("b"))
            .collect(Collectors.joining(" or "));
    String touched =
        "(%s) in (select %s from dusky_batch k)"
            .formatted(list("x", plan.keyNames()), list("k", plan.keyNames()));
    take(
        "from %s a join dusky_before b on %s where %s".formatted(into, id, differ),
        list("b", names) + ", " + list("a", names),
        names,
        most,
        true,
        true);
    take(
        "from %s a where (%s) in (select %s from %s x where %s except select %s from dusky_before b)"
            .formatted(
                into,
                list("a", identity()),
                list("x", identity()),
                into,
                touched,
                list("b", identity())),
        list("a", names),
        names,
        most,
        false,
        true);
    take(
        "from dusky_before a where not exists (select 1 from %s b where %s)".formatted(into, id),
        list("a", names),
        names,
        most,
        true,
        false);
  }

  private static String comparable(TableColumn column) {
    boolean json = column.type().map(t -> t.kind() == TypeKind.JSON).orElse(false);
    String name = "%s." + Identifiers.quote(column.name()).replace("%", "%%");
    return json ? "cast(" + name + " as varchar)" : name;
  }

  private List<String> identity() {
    if (plan.merge().surrogate().isPresent()) {
      return List.of(plan.merge().surrogate().get());
    }
    List<String> names = new ArrayList<>(plan.keyNames());
    plan.merge().history().map(ExistingPolicy.History::from).ifPresent(names::add);
    return names;
  }

  private static String list(String alias, List<String> names) {
    return names.stream()
        .map(n -> alias + "." + Identifiers.quote(n))
        .collect(Collectors.joining(", "));
  }

  private void take(
      String from, String values, List<String> names, long most, boolean before, boolean after)
      throws SQLException {
    String order = list("a", plan.keyNames());
    String history =
        plan.merge().history().map(h -> ", a." + Identifiers.quote(h.from())).orElse("");
    all += work.number("select count(*) " + from);
    work.read(
        "select %s %s order by %s%s fetch first %d rows only"
            .formatted(values, from, order, history, most),
        row ->
            shown.add(
                new MergeChange(
                    before ? values(row, names, 0) : Map.of(),
                    after ? values(row, names, before ? names.size() : 0) : Map.of())));
  }

  private static Map<String, Object> values(List<Object> row, List<String> names, int behind) {
    Map<String, Object> values = new LinkedHashMap<>();
    for (int i = 0; i < names.size(); i++) {
      values.put(names.get(i), row.get(behind + i));
    }
    return values;
  }

  /** Some of the changes, those of rows that stay first. */
  List<MergeChange> shown() {
    return shown;
  }

  /** How many rows change. */
  long all() {
    return all;
  }
}
