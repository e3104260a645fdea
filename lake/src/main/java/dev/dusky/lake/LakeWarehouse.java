package dev.dusky.lake;

import dev.dusky.core.alert.AlertEntries;
import dev.dusky.core.balance.Proofs;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.dispatch.Dispatcher;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.merge.Merges;
import dev.dusky.core.report.ReportEntries;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tidy.Tidying;
import dev.dusky.core.warehouse.Grants;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.Promotions;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Reversals;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.lake.engine.EngineSessions;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.service.CatalogService;
import dev.dusky.lake.tidy.LakeTidying;
import dev.dusky.warehouses.JdbcWarehouse;
import dev.dusky.warehouses.landed.JdbcPromotions;
import dev.dusky.warehouses.landed.JdbcReversals;
import dev.dusky.warehouses.merging.JdbcMerges;
import dev.dusky.warehouses.merging.MergeTables;
import dev.dusky.warehouses.proofs.JdbcProofs;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Tables in object storage with a ledger in a database; a load commits both in one transaction. */
final class LakeWarehouse implements Warehouse {

  private final LakeSettings settings;
  private final JdbcWarehouse database;
  private final LakeCatalog catalog;
  private final LakeTables tables;
  private final Optional<EngineSessions> engine;
  private final Optional<CatalogService> service;

  LakeWarehouse(
      LakeSettings settings,
      JdbcWarehouse database,
      LakeCatalog catalog,
      Optional<EngineSessions> engine,
      Optional<CatalogService> service) {
    this.settings = settings;
    this.database = database;
    this.catalog = catalog;
    this.tables = new LakeTables(database.database(), database.tables(), catalog);
    this.engine = engine;
    this.service = service;
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
    return new JdbcMerges(database.database(), targets());
  }

  private MergeTables targets() {
    return new LakeMergeTables(database.database(), tables, () -> engine("Merges"));
  }

  @Override
  public Proofs proofs() {
    return new JdbcProofs(database.database(), tables, tables.landed(), targets());
  }

  @Override
  public Promotions promotions() {
    return new JdbcPromotions(
        database.database(), ledger(), tables, new LakeLeftoverRows(catalog, tables.failures()));
  }

  /** Statements about the ledger's tables go to its database, all others to the engine. */
  @Override
  public void run(String sql, ResultTaker taker) {
    if (StatementPlace.isLedger(sql)) {
      database.run(sql, taker);
    } else {
      new EngineStatement(database.database(), tables, engine("SQL over tables")).run(sql, taker);
    }
  }

  @Override
  public Dispatcher dispatcher() {
    return engine("Reading files on an engine for tables")
        .dispatcher(
            refusal ->
                Failure.warehouse("The engine could not read the files")
                    .because(refusal.getMessage())
                    .hint(
                        "Nothing was changed. Load without --on engine to see whether a file is the cause")
                    .from(refusal));
  }

  private EngineSessions engine(String what) {
    return engine.orElseThrow(
        () ->
            Failure.configuration(what + " in object storage needs an engine")
                .because("the tables are at " + settings.place())
                .hint(
                    "Declare one: warehouse: { tables: …, ledger: …, engine: \"local[2]\" },"
                        + " and install its libraries with {}",
                    Invocation.of("engine", "--install")));
  }

  @Override
  public Optional<Tidying> tidying() {
    return Optional.of(new LakeTidying(database.database(), catalog, settings.place()));
  }

  @Override
  public List<ProbeStep> probe() {
    List<ProbeStep> steps = new ArrayList<>(database.probe());
    steps.addAll(known().steps());
    return steps;
  }

  @Override
  public List<ProbeStep> probe(Feed feed) {
    return List.of(known().step(feed));
  }

  private LakeProbe known() {
    return new LakeProbe(settings, database.database(), catalog, tables.failures(), service);
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
    engine.ifPresent(EngineSessions::close);
    service.ifPresent(CatalogService::close);
    database.close();
  }
}
