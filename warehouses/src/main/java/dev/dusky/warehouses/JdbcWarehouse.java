package dev.dusky.warehouses;

import dev.dusky.core.alert.AlertEntries;
import dev.dusky.core.balance.Proofs;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.merge.Merges;
import dev.dusky.core.report.ReportEntries;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Grants;
import dev.dusky.core.warehouse.Promotions;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Reversals;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.warehouses.alert.JdbcAlertEntries;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.DatabaseProbe;
import dev.dusky.warehouses.connection.Dialect;
import dev.dusky.warehouses.connection.JdbcGrants;
import dev.dusky.warehouses.connection.StatementRun;
import dev.dusky.warehouses.landed.JdbcLeftoverRows;
import dev.dusky.warehouses.landed.JdbcPromotions;
import dev.dusky.warehouses.landed.JdbcReversals;
import dev.dusky.warehouses.ledger.JdbcLedger;
import dev.dusky.warehouses.merging.JdbcMergeTables;
import dev.dusky.warehouses.merging.JdbcMerges;
import dev.dusky.warehouses.merging.MergeTables;
import dev.dusky.warehouses.posting.JdbcTables;
import dev.dusky.warehouses.posting.RowWriting;
import dev.dusky.warehouses.proofs.JdbcProofs;
import dev.dusky.warehouses.report.JdbcReportEntries;
import java.util.List;

/** A warehouse that is one database: ledger and tables together. */
public final class JdbcWarehouse implements Warehouse {

  private final Database database;
  private final Ledger ledger;
  private final JdbcTables tables;

  JdbcWarehouse(DatabaseSettings settings, Dialect dialect, RowWriting writing) {
    this.database = new Database(settings, dialect);
    this.ledger = new JdbcLedger(database);
    this.tables = new JdbcTables(database, writing);
  }

  /** The database. */
  public Database database() {
    return database;
  }

  @Override
  public String place() {
    return database.settings().toString();
  }

  @Override
  public Ledger ledger() {
    return ledger;
  }

  @Override
  public Tables tables() {
    return tables;
  }

  @Override
  public Merges merges() {
    return new JdbcMerges(database, targets());
  }

  @Override
  public Proofs proofs() {
    return new JdbcProofs(database, tables, targets());
  }

  private MergeTables targets() {
    return new JdbcMergeTables(database, tables);
  }

  @Override
  public AlertEntries alerts() {
    return new JdbcAlertEntries(database);
  }

  @Override
  public ReportEntries report() {
    return new JdbcReportEntries(database);
  }

  @Override
  public Reversals reversals() {
    return new JdbcReversals(database, tables);
  }

  @Override
  public Promotions promotions() {
    return new JdbcPromotions(database, ledger, tables, new JdbcLeftoverRows(database.dialect()));
  }

  @Override
  public Grants grants() {
    return new JdbcGrants();
  }

  @Override
  public void run(String sql, ResultTaker taker) {
    StatementRun.run(database, sql, taker);
  }

  @Override
  public List<ProbeStep> probe() {
    return new DatabaseProbe(database).steps();
  }

  @Override
  public boolean embedded() {
    return database.dialect().embedded();
  }

  @Override
  public boolean lost() {
    return database.failures().lost();
  }

  @Override
  public void rest() {
    database.rest();
  }

  @Override
  public void close() {
    database.close();
  }
}
