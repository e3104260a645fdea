package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.SourceRun;
import dev.dusky.core.ledger.SourceRuns;
import dev.dusky.warehouses.connection.Database;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Optional;
import org.jdbi.v3.core.statement.StatementContext;

/** The table {@code dusky.source_run}. */
final class JdbcSourceRuns implements SourceRuns {

  private final Database database;

  JdbcSourceRuns(Database database) {
    this.database = database;
  }

  @Override
  public Optional<SourceRun> last(String source) {
    return database.transact(
        "Looking for the high water of source " + source,
        h ->
            h.createQuery(
                    "select * from dusky.source_run where source = :source"
                        + " order by run_id desc fetch first 1 row only")
                .bind("source", source)
                .map(JdbcSourceRuns::read)
                .findFirst());
  }

  private static SourceRun read(ResultSet row, StatementContext context) throws SQLException {
    return new SourceRun(
        row.getString("source"),
        row.getString("depot"),
        row.getString("manifest"),
        Optional.ofNullable(row.getString("newer")),
        Optional.ofNullable(row.getString("high_water")),
        row.getString("shape"),
        row.getString("fingerprint"),
        row.getInt("file_count"),
        row.getLong("row_count"),
        row.getLong("byte_count"),
        row.getTimestamp("started_at").toInstant(),
        row.getTimestamp("staged_at").toInstant(),
        row.getString("staged_by"),
        row.getString("host"));
  }

  @Override
  public long files(String source) {
    return database.transact(
        "Counting the files of source " + source,
        h ->
            h.createQuery(
                    "select coalesce(sum(file_count), 0) from dusky.source_run"
                        + " where source = :source")
                .bind("source", source)
                .mapTo(Long.class)
                .one());
  }

  @Override
  public void enter(SourceRun run) {
    database.transact(
        "Entering the staging of source " + run.source(),
        h ->
            h.createUpdate(
                    """
                    insert into dusky.source_run (source, depot, manifest, newer, high_water, shape,
                      fingerprint, file_count, row_count, byte_count, started_at, staged_at, staged_by, host)
                    select cast(:source as varchar(200)), cast(:depot as varchar(200)),
                      cast(:manifest as varchar(1100)), cast(:newer as varchar(200)),
                      cast(:high as varchar(400)), cast(:shape as ${text}),
                      cast(:print as varchar(64)),
                      cast(:files as integer), cast(:rows as bigint), cast(:bytes as bigint),
                      cast(:started as timestamp with time zone),
                      cast(:staged as timestamp with time zone), cast(:by as varchar(200)),
                      cast(:host as varchar(200))
                    where not exists (select 1 from dusky.source_run
                      where source = :source and manifest = :manifest)"""
                        .replace("${text}", database.dialect().textType()))
                .bind("source", run.source())
                .bind("depot", run.depot())
                .bind("manifest", run.manifest())
                .bind("newer", run.newer().orElse(null))
                .bind("high", run.highWater().orElse(null))
                .bind("shape", run.shape())
                .bind("print", run.fingerprint())
                .bind("files", run.files())
                .bind("rows", run.rows())
                .bind("bytes", run.bytes())
                .bind("started", run.startedAt())
                .bind("staged", run.stagedAt())
                .bind("by", LedgerText.fit(run.stagedBy(), 200))
                .bind("host", LedgerText.fit(run.host(), 200))
                .execute());
  }
}
