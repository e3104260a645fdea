package dev.dusky.core.merge;

import dev.dusky.core.table.TableName;
import java.util.Map;
import java.util.Optional;

/**
 * A target column that takes the surrogate key of a dimension's row, found by its business key.
 *
 * @param column the target's column
 * @param table the dimension
 * @param keys the dimension's key columns, and the column or expression of the source for each
 * @param take the dimension's column to take
 * @param at the column of the source that says which version is meant; the open one if not given
 * @param validity how the dimension says since when and until when a version holds, if it does
 * @param unknown what is done when there is no such row
 */
public record Lookup(
    String column,
    TableName table,
    Map<String, String> keys,
    String take,
    Optional<String> at,
    Optional<Validity> validity,
    Unknown unknown) {

  /** The columns of a dimension with history; {@code current} may be missing. */
  public record Validity(String from, String until, Optional<String> current) {}

  /** How a key that the dimension lacks is handled. */
  public sealed interface Unknown {

    /** The row is a reject. */
    record Reject() implements Unknown {}

    /** The row takes this surrogate key. */
    record Default(String value) implements Unknown {}

    /**
     * The dimension gets a member that has its key alone, until its row arrives.
     *
     * @param column the dimension's boolean column that marks such members
     */
    record Placeholder(String column) implements Unknown {}
  }
}
