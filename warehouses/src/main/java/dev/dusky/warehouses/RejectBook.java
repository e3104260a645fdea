package dev.dusky.warehouses;

import dev.dusky.core.advice.ProblemGroups;
import dev.dusky.core.advice.Sighting;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.RejectState;
import dev.dusky.core.reject.StoredReject;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/** The rejects in the ledger, as commands read and settle them. */
public final class RejectBook {

  private static final int PAGE = 1000;

  private static final String SELECT =
      """
      select r.reject_id, f.feed, f.file_id, f.path, f.version, f.size_bytes, f.modified_at, f.state,
             r.load_id, f.preamble, r.record_number, r.line_number, r.byte_offset, r.place,
             r.raw_record, r.raw_cut, r.piece, r.context, r.tried_record, r.recorded_at, r.state,
             r.settled_by, r.settled_at, r.reason
      from dusky.reject r join dusky.file f on f.file_id = r.file_id
      where %s order by f.feed, f.path, r.load_id, r.record_number""";

  /**
   * When a kind of problem was first met.
   *
   * @param loadId in which load
   * @param at when
   */
  public record First(long loadId, Instant at) {}

  private final JdbcWarehouse warehouse;

  RejectBook(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /** Groups the problems of the chosen rejects. Streams; memory does not grow with their number. */
  public ProblemGroups groups(RejectChoice choice) {
    String sql =
        """
        select f.feed, r.reject_id, f.path, r.record_number, r.line_number, r.place, r.load_id,
               r.recorded_at, p.code, p.column_name, p.raw_value, p.message
        from dusky.reject r join dusky.file f on f.file_id = r.file_id
        join dusky.reject_problem p on p.reject_id = r.reject_id
        where %s order by f.feed, f.path, r.load_id, r.record_number, p.problem"""
            .formatted(choice.condition());
    ProblemGroups groups = new ProblemGroups();
    query(
        sql,
        choice.parameters(),
        row -> {
          String column = row.getString(10);
          RejectCode code = RejectCode.of(row.getString(9));
          boolean chosen =
              choice.column().map(column::equals).orElse(true)
                  && choice.code().map(code::equals).orElse(true);
          if (chosen) {
            groups.add(
                row.getString(1),
                new Sighting(
                    row.getLong(2),
                    row.getString(3),
                    row.getLong(4),
                    row.getLong(5),
                    text(row, 6),
                    row.getLong(7),
                    row.getTimestamp(8).toInstant()),
                new Problem(code, column, row.getString(11), row.getString(12)));
          }
        });
    return groups;
  }

  /** Gives the chosen rejects with everything known of them, in the order of their files. */
  public void forEach(RejectChoice choice, Consumer<StoredReject> taker) {
    List<Long> ids = new ArrayList<>();
    query(
        ("select r.reject_id from dusky.reject r join dusky.file f on f.file_id = r.file_id"
                + " where %s order by f.feed, f.path, r.load_id, r.record_number")
            .formatted(choice.condition()),
        choice.parameters(),
        row -> ids.add(row.getLong(1)));
    for (int from = 0; from < ids.size(); from += PAGE) {
      List<Long> page = ids.subList(from, Math.min(ids.size(), from + PAGE));
      list(RejectChoice.ids(page), PAGE).forEach(taker);
    }
  }

  /** The first so many of the chosen rejects. */
  public List<StoredReject> list(RejectChoice choice, int most) {
    List<StoredReject> all = new ArrayList<>();
    String sql = SELECT + " fetch first " + most + " rows only";
    query(sql.formatted(choice.condition()), choice.parameters(), row -> all.add(stored(row)));
    List<StoredReject> result = new ArrayList<>();
    give(all, result::add);
    return result;
  }

  private void give(List<StoredReject> page, Consumer<StoredReject> taker) {
    Map<Long, List<Problem>> problems =
        problems(page.stream().map(StoredReject::id).toArray(Long[]::new));
    for (StoredReject stored : page) {
      Reject r = stored.reject();
      taker.accept(
          new StoredReject(
              stored.id(),
              stored.feed(),
              stored.fileId(),
              stored.file(),
              stored.fileState(),
              stored.loadId(),
              stored.preamble(),
              new Reject(
                  r.recordNumber(),
                  r.line(),
                  r.byteOffset(),
                  r.place(),
                  r.raw(),
                  r.rawCut(),
                  r.piece(),
                  r.context(),
                  problems.getOrDefault(stored.id(), List.of())),
              stored.tried(),
              stored.recordedAt(),
              stored.state(),
              stored.settledBy(),
              stored.settledAt(),
              stored.reason()));
    }
  }

  private Map<Long, List<Problem>> problems(Long[] ids) {
    Map<Long, List<Problem>> problems = new HashMap<>();
    query(
        "select reject_id, code, column_name, raw_value, message from dusky.reject_problem"
            + " where reject_id = any(?) order by reject_id, problem",
        Collections.singletonList(ids),
        row ->
            problems
                .computeIfAbsent(row.getLong(1), id -> new ArrayList<>(1))
                .add(
                    new Problem(
                        RejectCode.of(row.getString(2)),
                        row.getString(3),
                        row.getString(4),
                        row.getString(5))));
    return problems;
  }

  private static StoredReject stored(ResultSet row) throws SQLException {
    String version = row.getString(5);
    Reject reject =
        new Reject(
            row.getLong(11),
            row.getLong(12),
            row.getLong(13),
            text(row, 14),
            row.getBytes(15),
            row.getBoolean(16),
            row.getInt(17),
            bytes(row, 18),
            List.of());
    return new StoredReject(
        row.getLong(1),
        row.getString(2),
        row.getLong(3),
        new StagedFile(
            row.getString(4),
            row.getLong(6),
            version.substring(version.indexOf(':') + 1),
            row.getTimestamp(7).toInstant()),
        row.getString(8),
        row.getLong(9),
        bytes(row, 10),
        reject,
        Optional.ofNullable(row.getBytes(19)),
        row.getTimestamp(20).toInstant(),
        RejectState.valueOf(row.getString(21).toUpperCase(java.util.Locale.ROOT)),
        Optional.ofNullable(row.getString(22)),
        Optional.ofNullable(row.getTimestamp(23)).map(Timestamp::toInstant),
        Optional.ofNullable(row.getString(24)));
  }

  private static String text(ResultSet row, int column) throws SQLException {
    String value = row.getString(column);
    return value == null ? "" : value;
  }

  private static byte[] bytes(ResultSet row, int column) throws SQLException {
    byte[] value = row.getBytes(column);
    return value == null ? new byte[0] : value;
  }

  /** The first time that each kind of problem of a feed was met, settled ones counted too. */
  public Map<String, First> firsts(String feed) {
    Map<String, First> firsts = new HashMap<>();
    query(
        """
        select p.column_name, p.code, min(r.load_id), min(r.recorded_at)
        from dusky.reject r join dusky.file f on f.file_id = r.file_id
        join dusky.reject_problem p on p.reject_id = r.reject_id
        where f.feed = ? group by p.column_name, p.code""",
        List.of(feed),
        row ->
            firsts.put(
                row.getString(1) + " " + row.getString(2),
                new First(row.getLong(3), row.getTimestamp(4).toInstant())));
    return firsts;
  }

  /** The rows read of each file of a feed in the load that found its rejects. */
  public Map<String, Long> rowsRead(String feed) {
    Map<String, Long> rows = new HashMap<>();
    query(
        """
        select f.path, sum(t.read_rows) from dusky.tally t join dusky.file f on f.file_id = t.file_id
        where f.feed = ? and t.state in ('posted', 'refused') and t.reversed_by is null
          and exists (select 1 from dusky.reject r
            where r.load_id = t.load_id and r.file_id = t.file_id)
        group by f.path""",
        List.of(feed),
        row -> rows.put(row.getString(1), row.getLong(2)));
    return rows;
  }

  /**
   * Closes the chosen open rejects with a reason that is kept.
   *
   * @return how many
   */
  public long waive(RejectChoice choice, String by, String reason) {
    String sql =
        """
        update dusky.reject set state = 'waived', settled_at = ?, settled_by = ?, reason = ?
        where state = 'open' and reject_id in (
          select r.reject_id from dusky.reject r join dusky.file f on f.file_id = r.file_id
          where %s)"""
            .formatted(choice.condition());
    List<Object> parameters =
        new ArrayList<>(List.of(Timestamp.from(Instant.now()), by, LedgerText.fit(reason, 1000)));
    parameters.addAll(choice.parameters());
    return warehouse.transact("Waiving rejects", c -> update(c, sql, parameters));
  }

  /**
   * Removes settled rejects that were settled before a moment; how many there were is kept.
   *
   * @return how many were removed
   */
  public long purge(Optional<String> feed, Instant before, String by) {
    String which =
        "state <> 'open' and settled_at < ?"
            + (feed.isPresent()
                ? " and file_id in (select file_id from dusky.file where feed = ?)"
                : "");
    List<Object> chosen = new ArrayList<>(List.of(Timestamp.from(before)));
    feed.ifPresent(chosen::add);
    List<Object> noted = new ArrayList<>(List.of(Timestamp.from(Instant.now()), by));
    noted.addAll(chosen);
    return warehouse.transact(
        "Removing settled rejects",
        c -> {
          update(
              c,
              """
              insert into dusky.purge (load_id, file_id, state, rejects, purged_at, purged_by)
              select load_id, file_id, state, count(*), cast(? as timestamp with time zone),
                cast(? as varchar(200))
              from dusky.reject where %s group by load_id, file_id, state"""
                  .formatted(which),
              noted);
          return update(c, "delete from dusky.reject where " + which, chosen);
        });
  }

  private static long update(Connection c, String sql, List<Object> parameters)
      throws SQLException {
    try (PreparedStatement statement = c.prepareStatement(sql)) {
      bind(c, statement, parameters);
      return statement.executeLargeUpdate();
    }
  }

  private static void bind(Connection c, PreparedStatement statement, List<Object> parameters)
      throws SQLException {
    for (int i = 0; i < parameters.size(); i++) {
      Object value = parameters.get(i);
      if (value instanceof Long[] ids) {
        statement.setArray(i + 1, c.createArrayOf("bigint", ids));
      } else {
        statement.setObject(i + 1, value);
      }
    }
  }

  @FunctionalInterface
  private interface RowTaker {
    void take(ResultSet row) throws SQLException;
  }

  private void query(String sql, List<Object> parameters, RowTaker taker) {
    warehouse.transact(
        "Reading the rejects",
        c -> {
          try (PreparedStatement query = c.prepareStatement(sql)) {
            query.setFetchSize(PAGE);
            bind(c, query, parameters);
            try (ResultSet row = query.executeQuery()) {
              while (row.next()) {
                taker.take(row);
              }
            }
          }
          return null;
        });
  }
}
