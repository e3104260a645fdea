package dev.dusky.lake;

import dev.dusky.core.alert.AlertEntries;
import dev.dusky.core.balance.Proofs;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.merge.Merges;
import dev.dusky.core.report.ReportEntries;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.warehouse.Grants;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.Promotions;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Reversals;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.warehouses.JdbcWarehouse;
import dev.dusky.warehouses.landed.JdbcReversals;
import dev.dusky.warehouses.proofs.JdbcProofs;
import java.util.List;

/** Tables in object storage with a ledger in a database; a load commits both in one transaction. */
final class LakeWarehouse implements Warehouse {

  private final LakeSettings settings;
  private final JdbcWarehouse database;
  private final LakeTables tables;

  LakeWarehouse(LakeSettings settings, JdbcWarehouse database, LakeCatalog catalog) {
    this.settings = settings;
    this.database = database;
    this.tables = new LakeTables(database.database(), database.tables(), catalog);
  }

  @Override
  public String place() {
    return settings.toString();
  }

  @Override
  public Ledger ledger() {
    return database.ledger();
  }

  @Override
  public Tables tables() {
    return tables;
  }

  @Override
  public AlertEntries alerts() {
    return database.alerts();
  }

  @Override
  public ReportEntries report() {
    return database.report();
  }

  @Override
  public Grants grants() {
    return database.grants();
  }

  @Override
  public Reversals reversals() {
    return new JdbcReversals(database.database(), tables);
  }

  @Override
  public Merges merges() {
    throw notYet("Merges");
  }

  @Override
  public Proofs proofs() {
    return new JdbcProofs(database.database(), tables, tables.landed());
  }

  @Override
  public Promotions promotions() {
    throw notYet("Promoting fields");
  }

  @Override
  public void run(String sql, ResultTaker taker) {
    throw notYet("SQL");
  }

  private Failure notYet(String what) {
    return Failure.configuration(what + " needs a warehouse that is one database")
        .because("the tables of this one are at " + settings.place())
        .hint("Use an engine that reads the tables through the catalog in the ledger's database");
  }

  @Override
  public List<ProbeStep> probe() {
    return database.probe();
  }

  @Override
  public boolean embedded() {
    return database.embedded();
  }

  @Override
  public boolean lost() {
    return database.lost();
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
