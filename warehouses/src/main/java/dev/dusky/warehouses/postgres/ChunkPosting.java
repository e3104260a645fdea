package dev.dusky.warehouses.postgres;

import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.tables.Refusals;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.posting.Posting;
import dev.dusky.warehouses.posting.RowRefusal;
import dev.dusky.warehouses.posting.ScratchTable;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * Posts a chunk of rows of which the table refuses some: exactly those are left out. First the rows
 * that break a rule are found with one query a rule, and the others are sent straight into the
 * table once more. If the table has several keys, or refuses that all the same, they are inserted
 * from the scratch table, those whose key is taken staying out; and for a trigger or a rule that
 * cannot be asked, the offending rows are found by a {@link GuardedInsert}, or, where the server
 * has no such blocks, by halving behind savepoints.
 */
final class ChunkPosting {

  private static final String KEY_TAKEN = "23505";

  /** The states that PostgreSQL gives for "on conflict" on deferrable constraints and on views. */
  private static final Set<String> NO_ARBITER = Set.of("55000", "0A000");

  private final Posting posting;
  private final Connection connection;
  private final String columns;
  private final Refusals refusals;
  private final List<TableRule> rules;
  private final ScratchTable scratch;
  private final boolean provenance;
  private boolean passTaken = true;
  private boolean unaskable;
  private Optional<GuardedInsert> within = Optional.empty();
  private final BitSet inserted = new BitSet();
  private final SortedMap<Long, List<Problem>> problems = new TreeMap<>();
  private long[] numbers;
  private int count;

  /**
   * For chunks of one file.
   *
   * @param columns the columns that are written, quoted
   */
  ChunkPosting(Posting posting, String columns, Refusals refusals) throws SQLException {
    this.posting = posting;
    this.connection = posting.connection();
    this.columns = columns;
    this.refusals = refusals;
    this.rules = posting.dialect().rules(connection, posting.table().name());
    this.scratch = new ScratchTable(posting, rules);
    this.provenance = posting.table().hasProvenance();
  }

  /** Makes room for the next chunk in the scratch table. */
  void begin() throws SQLException {
    scratch.begin();
  }

  /** Sends the rows of the chunk but for some into the table; an error if the table refuses any. */
  @FunctionalInterface
  interface Sender {
    void send(Set<Long> without) throws SQLException;
  }

  /**
   * Posts what is in the scratch table. When all its rules can be asked, the rows that keep them
   * are sent once more, straight into the table; only if it refuses even then do they go in from
   * here.
   *
   * @param recordNumbers the numbers of its rows' records, ascending
   * @return how many rows the table took
   */
  long post(long[] recordNumbers, int rows, Sender sender) throws SQLException {
    numbers = recordNumbers;
    count = rows;
    inserted.clear();
    problems.clear();
    refuse(scratch.violations());
    scratch.remove(problems.keySet());
    if (!sendAgain(sender)) {
      if (within.isPresent()) {
        insertWithin(within.get());
      } else {
        insert(1, rows);
      }
      settleConflicts();
    }
    for (Map.Entry<Long, List<Problem>> entry : problems.entrySet()) {
      refusals.add(recordNumbers[(int) (entry.getKey() - 1)], entry.getValue());
    }
    return inserted.cardinality();
  }

  private void refuse(SortedMap<Long, List<Problem>> found) throws SQLException {
    problems.putAll(found);
    scratch.addTotals(found.keySet(), refusals);
  }

  /** Whether the rows without a known fault could be sent as they are. */
  private boolean sendAgain(Sender sender) throws SQLException {
    Optional<SortedMap<Long, List<Problem>>> conflicts =
        unaskable ? Optional.empty() : scratch.conflicts();
    if (conflicts.isEmpty()) {
      return false;
    }
    Set<Long> without = new HashSet<>(problems.keySet());
    without.addAll(conflicts.get().keySet());
    Savepoint before = connection.setSavepoint();
    try {
      sender.send(without);
      connection.releaseSavepoint(before);
      refuse(conflicts.get());
      inserted.or(present(1, count));
      return true;
    } catch (SQLException e) {
      if (!RowRefusal.is(e)) {
        throw e;
      }
      connection.rollback(before);
      return false;
    }
  }

  /**
   * Inserts the rows with these numbers in the scratch table, as many as the table takes. If it
   * refuses them, the server finds which; if it cannot, the range is halved.
   */
  private void insert(int from, int to) throws SQLException {
    int at = from;
    while (at <= to) {
      Savepoint before = connection.setSavepoint();
      try {
        BitSet taken = tryInsert(at, to, passTaken);
        connection.releaseSavepoint(before);
        inserted.or(taken);
        return;
      } catch (SQLException e) {
        boolean cannotPass = passTaken && NO_ARBITER.contains(String.valueOf(e.getSQLState()));
        if (!cannotPass && !RowRefusal.is(e)) {
          throw e;
        }
        connection.rollback(before);
        if (cannotPass) {
          passTaken = false;
        } else {
          at = passOver(at, to, e);
        }
      }
    }
  }

  /** Has the server insert what it takes; rows whose key is taken stay out without a problem. */
  private void insertWithin(GuardedInsert insert) throws SQLException {
    BitSet taken = present(1, count);
    SortedMap<Long, List<Problem>> found = new TreeMap<>();
    insert
        .run()
        .forEach(
            (number, refused) -> {
              taken.clear(number.intValue());
              if (!KEY_TAKEN.equals(refused.state())) {
                SQLException error = new SQLException(refused.message(), refused.state());
                found.put(number, List.of(RowRefusal.problem(error, rules)));
              }
            });
    refuse(found);
    inserted.or(taken);
  }

  /** Processes the rows up to the refused one, and gives the number to continue with. */
  private int passOver(int from, int to, SQLException e) throws SQLException {
    BitSet rows = present(from, to);
    if (rows.cardinality() <= 1) {
      refuse(rows.isEmpty() ? from : rows.nextSetBit(0), RowRefusal.problem(e, rules));
      return to + 1;
    }
    if (!unaskable) {
      unaskable = true;
      if (GuardedInsert.possible(connection)) {
        within =
            Optional.of(
                new GuardedInsert(connection, Identifiers.quote(posting.table().name()), columns));
        insertWithin(within.get());
        return to + 1;
      }
    }
    int middle = (from + to) >>> 1;
    insert(from, middle);
    return middle + 1;
  }

  private void refuse(long number, Problem problem) throws SQLException {
    problems.put(number, List.of(problem));
    scratch.addTotals(List.of(number), refusals);
  }

  /** Inserts them in one statement and returns which the table took. */
  private BitSet tryInsert(int from, int to, boolean pass) throws SQLException {
    BitSet taken = new BitSet();
    String sql =
        "insert into %s (%s) select %s from (select * from %s where %s between %d and %d order by %s offset 0) s"
            .formatted(
                Identifiers.quote(posting.table().name()),
                columns,
                columns,
                ScratchTable.NAME,
                ScratchTable.NUMBER,
                from,
                to,
                ScratchTable.NUMBER);
    try (Statement statement = connection.createStatement()) {
      if (!provenance) {
        long changed = statement.executeLargeUpdate(sql);
        if (changed < present(from, to).cardinality()) {
          throw new SQLException("a trigger of the table drops the row", RowRefusal.LEFT_OUT);
        }
        taken.or(present(from, to));
        return taken;
      }
      String returning = (pass ? " on conflict do nothing" : "") + " returning dusky_row";
      try (ResultSet row = statement.executeQuery(sql + returning)) {
        while (row.next()) {
          int at = Arrays.binarySearch(numbers, 0, count, row.getLong(1));
          taken.set(at + 1);
        }
      }
    }
    return taken;
  }

  private BitSet present(int from, int to) {
    BitSet present = new BitSet();
    for (int number = from; number <= to; number++) {
      present.set(number, !problems.containsKey((long) number));
    }
    return present;
  }

  /** Says of each row that stayed out without an error why it did. */
  private void settleConflicts() throws SQLException {
    BitSet out = present(1, count);
    out.andNot(inserted);
    if (out.isEmpty()) {
      return;
    }
    List<Long> numbersOut = out.stream().mapToObj(n -> (long) n).toList();
    SortedMap<Long, List<Problem>> taken = scratch.takenKeys(numbersOut);
    scratch.addTotals(taken.keySet(), refusals);
    problems.putAll(taken);
    for (long number : numbersOut) {
      if (!taken.containsKey(number)) {
        insertAlone((int) number);
      }
    }
  }

  /** Neither a key that can be named nor an error: the table itself must say what it is. */
  private void insertAlone(int number) throws SQLException {
    Savepoint before = connection.setSavepoint();
    try {
      BitSet taken = tryInsert(number, number, false);
      connection.releaseSavepoint(before);
      if (taken.isEmpty()) {
        refuse(
            number,
            new Problem(RejectCode.LEFT_OUT, "", "", "a trigger of the table drops the row"));
      }
      inserted.or(taken);
    } catch (SQLException e) {
      if (!RowRefusal.is(e)) {
        throw e;
      }
      connection.rollback(before);
      refuse(number, RowRefusal.problem(e, rules));
    }
  }
}
