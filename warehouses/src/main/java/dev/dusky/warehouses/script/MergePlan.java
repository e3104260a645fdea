package dev.dusky.warehouses.script;

import dev.dusky.core.merge.DeleteMarker;
import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.SnapshotPolicy;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableShape;
import java.util.List;
import java.util.Optional;

/**
 * A declared merge compared with the tables that are really there.
 *
 * @param merge what is declared
 * @param provenance whether the source's rows say where they came from
 * @param target the target
 * @param columns the target's columns that take values of the source, keys first
 * @param latest what says which of several rows is the latest, most important first
 * @param gone the condition under which a row says that its key is gone
 * @param at the expression for since when a row holds, if that matters
 * @param looked the columns that come from dimensions
 * @param surrogateFilled whether the target numbers new rows
 * @param unique whether the target itself sees to it that keys are unique
 * @param spare the statements that would give the target the columns of the source that it lacks
 */
public record MergePlan(
    Merge merge,
    boolean provenance,
    TableShape target,
    List<Column> columns,
    List<Ordering> latest,
    String gone,
    Optional<String> at,
    List<Looked> looked,
    boolean surrogateFilled,
    boolean unique,
    List<String> spare) {

  /**
   * A column of the target that takes values of the source.
   *
   * @param name its name
   * @param expression what it takes, over the source's columns; empty if it comes from a dimension
   * @param key whether it belongs to the key
   * @param json whether it holds JSON, which is compared as text
   */
  public record Column(String name, String expression, boolean key, boolean json) {

    /** Whether it says where the row came from. */
    boolean carried() {
      return Provenance.COLUMNS.contains(name);
    }

    /** Whether it comes from a dimension. */
    boolean looked() {
      return expression.isEmpty();
    }
  }

  /**
   * The order of rows by time.
   *
   * @param expression over the source's columns
   * @param target the target's column that holds the same, if one does
   */
  public record Ordering(String expression, Optional<String> target) {}

  /**
   * A column that comes from a dimension.
   *
   * @param column its name
   * @param needed whether a row must have it
   * @param type its type as the warehouse writes it
   * @param numbers whether new rows of the dimension must be given the number that is taken, as it
   *     does not number them itself
   */
  public record Looked(String column, boolean needed, String type, boolean numbers) {}

  /** The columns that belong to the key. */
  public List<Column> keys() {
    return columns.stream().filter(Column::key).toList();
  }

  /** The columns that do not. */
  public List<Column> values() {
    return columns.stream().filter(c -> !c.key()).toList();
  }

  /**
   * Those of them in which a difference is a change; where a row came from is none, and neither is
   * since when a version holds, unless the merge names that column among its versions.
   */
  public List<Column> compared() {
    return values().stream().filter(c -> !c.carried() && !tellsTheMoment(c)).toList();
  }

  private boolean tellsTheMoment(Column column) {
    String moment = column.expression();
    return at.filter(a -> a.equals(moment) || a.startsWith("cast(" + moment + " as ")).isPresent()
        && merge.history().filter(h -> !h.versions().contains(column.name())).isPresent();
  }

  /** The names of the key's columns. */
  public List<String> keyNames() {
    return keys().stream().map(Column::name).toList();
  }

  /** The truth column that the merge sets where a key has gone. */
  public Optional<String> mark() {
    return leaving(GoneKeys.MARK);
  }

  /** The time column that the merge sets where a key has gone; none where a history ends. */
  public Optional<String> end() {
    return leaving(GoneKeys.END);
  }

  private Optional<String> leaving(GoneKeys how) {
    Optional<String> deleted =
        merge.deleted().filter(d -> d.then() == how).flatMap(DeleteMarker::into);
    return deleted.isPresent()
        ? deleted
        : merge.missing().filter(m -> m.then() == how).flatMap(SnapshotPolicy::into);
  }

  /** Whether that is the boolean column that marks deleted keys. */
  boolean marks(Column column) {
    return mark().filter(column.name()::equals).isPresent();
  }

  /** Whether a batch row ends its key; one that is marked as gone is a version like any other. */
  String ends(String alias) {
    return mark().isPresent() ? "false" : alias + ".dusky_gone";
  }

  /** Whether a changed value of that column makes a new version. */
  public boolean makesVersion(String column) {
    ExistingPolicy.History history = merge.history().orElseThrow();
    return history.versions().isEmpty() || history.versions().contains(column);
  }
}
