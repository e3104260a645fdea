package dev.dusky.core.rehearse;

import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.ledger.LoadLedger;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A ledger and tables of which nothing stays. Rows are written into the landing table, so that the
 * table itself judges them, in one transaction that is rolled back; the ledger is read if it exists
 * and never written. Rows for a table that is still to be created, that would have to grow, or that
 * this user may not write into, are only counted.
 */
public final class Rehearsal {

  private final LoadLedger ledger;
  private final Tables tables;
  private final boolean elsewhere;
  private final boolean booked;
  private final List<GrownColumn> planned = new ArrayList<>();
  private Optional<TableShape> planShape = Optional.empty();
  private boolean missing;
  private boolean judged = true;

  /**
   * A rehearsal against that ledger and those tables.
   *
   * @param elsewhere whether other machines attempt the files
   */
  public Rehearsal(LoadLedger ledger, Tables tables, boolean elsewhere) {
    this.elsewhere = elsewhere;
    this.ledger = ledger;
    this.tables = tables;
    this.booked = ledger.exists();
  }

  /** The ledger to rehearse with; a taker receives what it would enter. */
  public RehearsalLedger ledger(RejectTaker taker) {
    return new RehearsalLedger(this, taker);
  }

  /** The tables to rehearse with. */
  public Tables tables() {
    return new RehearsalTables(this, tables);
  }

  LoadLedger real() {
    return ledger;
  }

  Tables realTables() {
    return tables;
  }

  /** Whether other machines attempt the files. */
  boolean elsewhere() {
    return elsewhere;
  }

  /** Whether the ledger exists. */
  boolean booked() {
    return booked;
  }

  /** Whether the landing table exists. */
  boolean missing() {
    return missing;
  }

  /** Whether the table itself judges rows. */
  boolean judged() {
    return judged;
  }

  /** The table as it is, or as it would be. */
  Optional<TableShape> shape(TableName table) {
    if (planShape.filter(shape -> shape.name().equals(table)).isPresent()) {
      return planShape;
    }
    Optional<TableShape> existing = tables.shape(table);
    if (existing.isPresent()) {
      judged = tables.writable(table);
    }
    return existing;
  }

  /** Plans the creation of a table. */
  void create(TableName table, List<FeedColumn> columns) {
    missing = true;
    judged = false;
    List<TableColumn> shape = new ArrayList<>();
    for (FeedColumn column : columns) {
      shape.add(
          new TableColumn(
              column.name(),
              Optional.of(column.type()),
              column.type().toString(),
              column.notNull(),
              false));
    }
    for (String name : Provenance.COLUMNS) {
      shape.add(
          new TableColumn(name, Optional.of(SqlType.of(TypeKind.BIGINT)), "bigint", true, false));
    }
    planShape = Optional.of(new TableShape(table, shape));
  }

  /** Plans a column; the table itself stays as it is, so it cannot judge rows from now on. */
  void grow(TableName table, GrownColumn column) {
    judged = false;
    TableShape shape = shape(table).orElseThrow();
    List<TableColumn> columns = new ArrayList<>(shape.columns());
    columns.removeIf(c -> c.name().equals(column.name()));
    columns.add(
        new TableColumn(
            column.name(), Optional.of(column.type()), column.type().toString(), false, false));
    planShape = Optional.of(new TableShape(table, columns));
    judged = false;
  }

  /** Enters a planned column. */
  void note(GrownColumn column) {
    planned.removeIf(c -> c.name().equals(column.name()));
    planned.add(column);
  }

  /** The columns that came to a feed, those of this rehearsal included. */
  List<GrownColumn> grown(String feed) {
    List<GrownColumn> all = new ArrayList<>(booked ? ledger.grown(feed) : List.<GrownColumn>of());
    all.addAll(planned);
    return all;
  }
}
