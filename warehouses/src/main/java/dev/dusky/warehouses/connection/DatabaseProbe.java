package dev.dusky.warehouses.connection;

import dev.dusky.core.depot.ProbeStep;
import java.sql.DatabaseMetaData;
import java.util.List;

/** Tries the rights on a database one by one. */
public final class DatabaseProbe {

  private final Database database;

  /** A probe of that database. */
  public DatabaseProbe(Database database) {
    this.database = database;
  }

  /** The steps, in their order. */
  public List<ProbeStep> steps() {
    return List.of(
        new ProbeStep("connect", this::version),
        new ProbeStep("read", this::tableCount),
        new ProbeStep("write", this::write));
  }

  private ProbeStep.Finding version() {
    return database.transact(
        "Asking the warehouse for its version",
        h -> {
          DatabaseMetaData meta = h.getConnection().getMetaData();
          return ProbeStep.Finding.passed(
              meta.getDatabaseProductName() + " " + meta.getDatabaseProductVersion());
        });
  }

  private ProbeStep.Finding tableCount() {
    return database.transact(
        "Listing tables",
        h ->
            ProbeStep.Finding.passed(
                h.createQuery(
                            "select count(*) from information_schema.tables where"
                                + " lower(table_schema) not in ('information_schema', 'pg_catalog')")
                        .mapTo(Long.class)
                        .one()
                    + " tables visible"));
  }

  /** Makes a schema with a table and a row, and removes them again. */
  private ProbeStep.Finding write() {
    return database.transact(
        "Making a schema and a table for trial",
        h -> {
          h.execute("create schema dusky_probe");
          try {
            h.execute("create table dusky_probe.trial (id bigint)");
            h.execute("insert into dusky_probe.trial values (1)");
          } finally {
            h.execute("drop schema dusky_probe cascade");
          }
          return ProbeStep.Finding.passed("schema, table and row made and removed again");
        });
  }
}
