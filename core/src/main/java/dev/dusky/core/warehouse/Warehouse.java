package dev.dusky.core.warehouse;

import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import java.util.List;
import java.util.Optional;

/**
 * A warehouse to load into. All methods throw a {@link dev.dusky.core.failure.Failure} of kind
 * WAREHOUSE that says what was refused.
 */
public interface Warehouse extends AutoCloseable {

  /** Where it is, for people, without secrets. */
  String place();

  /** The books. */
  Ledger ledger();

  /** The columns of a table, or nothing if it does not exist. */
  Optional<TableShape> shape(TableName table);

  /** Makes a table with these columns and the provenance columns. */
  void create(TableName table, List<FeedColumn> columns);

  /** The statement that {@link #create} would run. */
  String createStatement(TableName table, List<FeedColumn> columns);

  /** The rights to try, one by one. */
  List<ProbeStep> probe();

  @Override
  void close();
}
