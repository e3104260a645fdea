package dev.dusky.core.rehearse;

import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.AdoptedRows;
import dev.dusky.core.tables.FormerRows;
import dev.dusky.core.tables.GroupChange;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.tables.Trial;
import java.util.List;
import java.util.Optional;

/** Tables that are not changed: what would be is planned, and rows go into a trial transaction. */
final class RehearsalTables implements Tables {

  private final Rehearsal rehearsal;
  private final Tables real;

  RehearsalTables(Rehearsal rehearsal, Tables real) {
    this.rehearsal = rehearsal;
    this.real = real;
  }

  @Override
  public Optional<TableShape> shape(TableName table) {
    return rehearsal.shape(table);
  }

  @Override
  public void create(TableName table, List<FeedColumn> columns) {
    rehearsal.create(table, columns);
  }

  @Override
  public String createStatement(TableName table, List<FeedColumn> columns) {
    return real.createStatement(table, columns);
  }

  @Override
  public boolean writable(TableName table) {
    return real.writable(table);
  }

  @Override
  public List<TableRule> rules(TableName table) {
    return real.rules(table);
  }

  @Override
  public int concurrency(TableName table) {
    return 1;
  }

  @Override
  public String addColumn(Transaction transaction, TableName table, GrownColumn column) {
    rehearsal.grow(table, column);
    return real.addStatement(table, column);
  }

  @Override
  public String widenColumn(Transaction transaction, TableName table, GrownColumn column) {
    rehearsal.grow(table, column);
    return real.widenStatement(table, column);
  }

  @Override
  public String addStatement(TableName table, GrownColumn column) {
    return real.addStatement(table, column);
  }

  @Override
  public String widenStatement(TableName table, GrownColumn column) {
    return real.widenStatement(table, column);
  }

  @Override
  public long takeOut(Transaction transaction, TableName table, long loadId, long fileId) {
    return rehearsal.judged() ? real.takeOut(transaction, table, loadId, fileId) : 0;
  }

  @Override
  public LandingChange change(Transaction transaction, Landing landing, long loadId, long fileId) {
    LandingChange change = real.change(transaction, landing, loadId, fileId);
    return new Change(change, rehearsal.judged(), rehearsal.missing(), rehearsal.booked());
  }

  @Override
  public GroupChange changes(Transaction transaction, Landing landing, long loadId) {
    throw new IllegalStateException("a rehearsal claims files one by one");
  }

  @Override
  public AdoptedRows adopted(Transaction transaction, TableName table) {
    Optional<AdoptedRows> rows =
        rehearsal.missing()
            ? Optional.empty()
            : Optional.of(new RehearsedRows(real.adopted(transaction, table), rehearsal.booked()));
    return rehearsal.judged() ? rows.orElseThrow() : new CountedRows(rows);
  }

  @Override
  public FormerRows former() {
    return new RehearsedFormer(rehearsal, real.former());
  }

  @Override
  public Trial trial() {
    return real.trial();
  }

  /** A file's rows, written only if the table judges them. */
  private record Change(LandingChange real, boolean judged, boolean missing, boolean booked)
      implements LandingChange {

    @Override
    public RowWriter writer() {
      return judged ? real.writer() : new CountingWriter();
    }

    @Override
    public void hold() {
      if (booked) {
        real.hold();
      }
    }

    @Override
    public void rows(List<String> columns, LandedRows taker) {
      if (!missing) {
        real.rows(columns, taker);
      }
    }

    @Override
    public void undo() {
      real.undo();
    }
  }
}
