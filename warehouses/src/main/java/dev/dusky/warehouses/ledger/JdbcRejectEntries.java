package dev.dusky.warehouses.ledger;

import dev.dusky.core.advice.ProblemGroups;
import dev.dusky.core.advice.Sighting;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.ledger.FirstReject;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.ledger.RejectEntries;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.RejectState;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.warehouses.connection.Database;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.statement.Update;

/** The rejects in {@code dusky.reject} and {@code dusky.reject_problem}. */
final class JdbcRejectEntries implements RejectEntries {

  private static final int PAGE = 1000;

  private static final String ORDER = " order by f.feed, f.path, r.load_id, r.record_number";

  private static final String SELECT =
      """
      select r.reject_id, f.feed, f.file_id, f.path, f.version, f.size_bytes, f.modified_at,
             f.state as file_state, r.load_id, f.preamble, r.record_number, r.line_number,
             r.byte_offset, r.place, r.raw_record, r.raw_cut, r.piece, r.context, r.tried_record,
             r.recorded_at, r.state, r.settled_by, r.settled_at, r.reason
      from dusky.reject r join dusky.file f on f.file_id = r.file_id
      where %s""";

  private static final String GROUPS =
      """
      select f.feed, r.reject_id, f.path, r.record_number, r.line_number, r.place, r.load_id,
             r.recorded_at, p.code, p.column_name, p.raw_value, p.message
      from dusky.reject r join dusky.file f on f.file_id = r.file_id
      join dusky.reject_problem p on p.reject_id = r.reject_id
      where %s order by f.feed, f.path, r.load_id, r.record_number, p.problem""";

  private final Database database;

  JdbcRejectEntries(Database database) {
    this.database = database;
  }

  @Override
  public ProblemGroups groups(RejectChoice choice) {
    RejectCondition condition = new RejectCondition(choice);
    ProblemGroups groups = new ProblemGroups();
    return read(
        h -> {
          condition
              .bind(h.createQuery(GROUPS.formatted(condition.sql())))
              .setFetchSize(PAGE)
              .reduceResultSet(
                  groups,
                  (all, row, context) -> {
                    add(all, choice, row);
                    return all;
                  });
          return groups;
        });
  }

  private static void add(ProblemGroups groups, RejectChoice choice, ResultSet row)
      throws SQLException {
    String column = row.getString("column_name");
    RejectCode code = RejectCode.of(row.getString("code"));
    boolean chosen =
        choice.column().map(column::equals).orElse(true)
            && choice.code().map(code::equals).orElse(true);
    if (chosen) {
      groups.add(
          row.getString("feed"),
          new Sighting(
              row.getLong("reject_id"),
              row.getString("path"),
              row.getLong("record_number"),
              row.getLong("line_number"),
              text(row, "place"),
              row.getLong("load_id"),
              row.getTimestamp("recorded_at").toInstant()),
          new Problem(code, column, row.getString("raw_value"), row.getString("message")));
    }
  }

  @Override
  public void forEach(RejectChoice choice, Consumer<StoredReject> taker) {
    RejectCondition condition = new RejectCondition(choice);
    String sql =
        "select r.reject_id from dusky.reject r join dusky.file f on f.file_id = r.file_id where "
            + condition.sql()
            + ORDER;
    List<Long> ids =
        read(h -> condition.bind(h.createQuery(sql)).setFetchSize(PAGE).mapTo(Long.class).list());
    for (int from = 0; from < ids.size(); from += PAGE) {
      List<Long> page = ids.subList(from, Math.min(ids.size(), from + PAGE));
      list(RejectChoice.ids(page), PAGE).forEach(taker);
    }
  }

  @Override
  public List<StoredReject> list(RejectChoice choice, int most) {
    RejectCondition condition = new RejectCondition(choice);
    String sql = SELECT.formatted(condition.sql()) + ORDER + " fetch first " + most + " rows only";
    return read(
        h -> {
          List<StoredReject> bare =
              condition
                  .bind(h.createQuery(sql))
                  .setFetchSize(PAGE)
                  .map((row, context) -> stored(row))
                  .list();
          Map<Long, List<Problem>> problems =
              problems(h, bare.stream().map(StoredReject::id).toList());
          return bare.stream()
              .map(r -> r.withProblems(problems.getOrDefault(r.id(), List.of())))
              .toList();
        });
  }

  private static Map<Long, List<Problem>> problems(Handle handle, List<Long> ids) {
    return handle
        .createQuery(
            "select reject_id, code, column_name, raw_value, message from dusky.reject_problem"
                + " where reject_id = any(:ids) order by reject_id, problem")
        .bindArray("ids", Long.class, ids)
        .reduceResultSet(
            new HashMap<Long, List<Problem>>(),
            (problems, row, context) -> {
              problems
                  .computeIfAbsent(row.getLong("reject_id"), id -> new ArrayList<>(1))
                  .add(
                      new Problem(
                          RejectCode.of(row.getString("code")),
                          row.getString("column_name"),
                          row.getString("raw_value"),
                          row.getString("message")));
              return problems;
            });
  }

  /** The reject of a row, without its problems. */
  private static StoredReject stored(ResultSet row) throws SQLException {
    String version = row.getString("version");
    Reject reject =
        new Reject(
            row.getLong("record_number"),
            row.getLong("line_number"),
            row.getLong("byte_offset"),
            text(row, "place"),
            row.getBytes("raw_record"),
            row.getBoolean("raw_cut"),
            row.getInt("piece"),
            bytes(row, "context"),
            List.of());
    return new StoredReject(
        row.getLong("reject_id"),
        row.getString("feed"),
        row.getLong("file_id"),
        new StagedFile(
            row.getString("path"),
            row.getLong("size_bytes"),
            version.substring(version.indexOf(':') + 1),
            row.getTimestamp("modified_at").toInstant()),
        row.getString("file_state"),
        row.getLong("load_id"),
        bytes(row, "preamble"),
        reject,
        Optional.ofNullable(row.getBytes("tried_record")),
        row.getTimestamp("recorded_at").toInstant(),
        RejectState.of(row.getString("state")),
        Optional.ofNullable(row.getString("settled_by")),
        Optional.ofNullable(row.getTimestamp("settled_at")).map(Timestamp::toInstant),
        Optional.ofNullable(row.getString("reason")));
  }

  private static String text(ResultSet row, String column) throws SQLException {
    String value = row.getString(column);
    return value == null ? "" : value;
  }

  private static byte[] bytes(ResultSet row, String column) throws SQLException {
    byte[] value = row.getBytes(column);
    return value == null ? new byte[0] : value;
  }

  @Override
  public Map<String, FirstReject> firsts(String feed) {
    String sql =
        """
        select p.column_name, p.code, min(r.load_id) as load_id, min(r.recorded_at) as recorded_at
        from dusky.reject r join dusky.file f on f.file_id = r.file_id
        join dusky.reject_problem p on p.reject_id = r.reject_id
        where f.feed = :feed group by p.column_name, p.code""";
    return read(
        h ->
            h.createQuery(sql)
                .bind("feed", feed)
                .reduceResultSet(
                    new HashMap<String, FirstReject>(),
                    (firsts, row, context) -> {
                      firsts.put(
                          row.getString("column_name") + " " + row.getString("code"),
                          new FirstReject(
                              row.getLong("load_id"), row.getTimestamp("recorded_at").toInstant()));
                      return firsts;
                    }));
  }

  @Override
  public Map<String, Long> rowsRead(String feed) {
    String sql =
        """
        select f.path, sum(t.read_rows) as read_rows
        from dusky.tally t join dusky.file f on f.file_id = t.file_id
        where f.feed = :feed and t.state in ('posted', 'refused') and t.reversed_by is null
          and exists (select 1 from dusky.reject r
            where r.load_id = t.load_id and r.file_id = t.file_id)
        group by f.path""";
    return read(
        h ->
            h.createQuery(sql)
                .bind("feed", feed)
                .reduceResultSet(
                    new HashMap<String, Long>(),
                    (rows, row, context) -> {
                      rows.put(row.getString("path"), row.getLong("read_rows"));
                      return rows;
                    }));
  }

  @Override
  public long waive(RejectChoice choice, String by, String reason) {
    RejectCondition condition = new RejectCondition(choice);
    String sql =
        """
        update dusky.reject set state = 'waived', settled_at = :at, settled_by = :by,
          reason = :reason
        where state = 'open' and reject_id in (
          select r.reject_id from dusky.reject r join dusky.file f on f.file_id = r.file_id
          where %s)"""
            .formatted(condition.sql());
    return database.transact(
        "Waiving rejects",
        h ->
            (long)
                condition
                    .bind(h.createUpdate(sql))
                    .bind("at", Instant.now())
                    .bind("by", by)
                    .bind("reason", LedgerText.fit(reason, 1000))
                    .execute());
  }

  @Override
  public long purge(Optional<String> feed, Instant before, String by) {
    String which =
        "state <> 'open' and settled_at < :before"
            + (feed.isPresent()
                ? " and file_id in (select file_id from dusky.file where feed = :feed)"
                : "");
    String note =
        """
        insert into dusky.purge (load_id, file_id, state, rejects, purged_at, purged_by)
        select load_id, file_id, state, count(*), cast(:now as timestamp with time zone),
          cast(:by as varchar(200))
        from dusky.reject where %s group by load_id, file_id, state"""
            .formatted(which);
    return database.transact(
        "Removing settled rejects",
        h -> {
          chosen(h.createUpdate(note), feed, before)
              .bind("now", Instant.now())
              .bind("by", by)
              .execute();
          return (long)
              chosen(h.createUpdate("delete from dusky.reject where " + which), feed, before)
                  .execute();
        });
  }

  private static Update chosen(Update update, Optional<String> feed, Instant before) {
    feed.ifPresent(name -> update.bind("feed", name));
    return update.bind("before", before);
  }

  private <T> T read(Database.Work<T> work) {
    return database.transact("Reading the rejects", work);
  }
}
