package dev.dusky.core.load;

import dev.dusky.core.bind.HashedColumns;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.repeat.HashMemory;
import dev.dusky.core.repeat.HashSpool;
import dev.dusky.core.repeat.Place;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.repeat.RepeatPolicy.Scope;
import dev.dusky.core.repeat.RowHash;
import dev.dusky.core.repeat.RowHashTable;
import dev.dusky.core.repeat.Verdicts;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.LongToIntFunction;

/**
 * The rows that a load has read, so that repeats are detected across its files. In memory first;
 * once that is full, on disk.
 */
final class LoadRepeats implements AutoCloseable {

  private Feed feed;
  private final RepeatPolicy policy;
  private final HashMemory memory;
  private final List<Long> files = new ArrayList<>();
  private final Map<Long, Integer> turns = new HashMap<>();
  private final BitSet dead = new BitSet();
  private RowHashTable table;
  private HashSpool known;
  private String mark = "";
  private boolean surveyAll;
  private Optional<Found> found = Optional.empty();

  /** What has been found of the rows of files on many machines. */
  @FunctionalInterface
  interface Found {

    /**
     * The verdicts on a file's rows.
     *
     * @param turns gives the turn of a file by its number in the ledger
     */
    Verdicts of(long fileId, LongToIntFunction turns);
  }

  /**
   * The repeats of one load, or of one of its files beside others.
   *
   * @param memory what the row hashes of the whole load may take
   */
  LoadRepeats(Feed feed, HashMemory memory) {
    this.feed = feed;
    this.policy = feed.policies().repeats();
    this.memory = memory;
  }

  /** The repeats of files that have been found on many machines. */
  LoadRepeats(Feed feed, HashMemory memory, Found found) {
    this(feed, memory);
    this.found = Optional.of(found);
  }

  /**
   * Begins with a file whose claim is held.
   *
   * @param refused records of it that the table has refused before, ascending
   */
  FileRepeats begin(FilePosting posting, long[] refused) {
    long fileId = posting.claim().fileId();
    if (found.isPresent()) {
      Verdicts verdicts = found.get().of(fileId, this::known);
      return new FileRepeats(this, known(fileId), refused, verdicts);
    }
    if (policy.scope() == Scope.FILE || table == null && known == null) {
      closeTable();
      table = new RowHashTable(memory, 0);
    }
    if (policy.remove() && policy.scope() == Scope.TABLE) {
      look(posting);
    }
    return new FileRepeats(this, turn(fileId), refused, null);
  }

  /** Its number, which it has from the first time that it is asked for. */
  private int known(long fileId) {
    Integer turn = turns.get(fileId);
    return turn == null ? turn(fileId) : turn;
  }

  /** Its number among the files that this load has to do with. */
  private int turn(long fileId) {
    files.add(fileId);
    turns.put(fileId, files.size() - 1);
    return files.size() - 1;
  }

  /** Learns what is in the landing table, again if another process has changed it. */
  private void look(FilePosting posting) {
    posting.change().hold();
    String now = posting.claim().landedMark();
    if (now.equals(mark)) {
      return;
    }
    mark = now;
    close();
    table = new RowHashTable(memory, 0);
    RowHash hash = HashedColumns.landedHash(feed);
    posting
        .change()
        .rows(
            HashedColumns.columns(feed).stream().map(FeedColumn::name).toList(),
            (fileId, record, vectors, row) -> {
              if (hash.hash(vectors, row)) {
                remember(hash.high(), hash.low(), Place.of(known(fileId), record));
              }
            });
  }

  private void remember(long high, long low, long place) {
    if (known == null) {
      int slot = table.slot(high, low);
      if (table.taken(slot) ? !isDead(table.place(slot)) : table.put(slot, high, low, place)) {
        return;
      }
      if (table.taken(slot)) {
        table.replace(slot, place);
        return;
      }
      overflow();
    }
    known.add(high, low, place, new long[0]);
  }

  RepeatPolicy policy() {
    return policy;
  }

  Feed feed() {
    return feed;
  }

  RowHashTable table() {
    return table;
  }

  /** Whether files must be surveyed, since memory does not hold the row hashes. */
  boolean surveyAll() {
    return surveyAll;
  }

  /** The hashes on disk, or null while memory is enough. */
  HashSpool known() {
    return known;
  }

  BitSet dead() {
    return dead;
  }

  boolean isDead(long place) {
    return dead.get(Place.file(place));
  }

  /** The ledger's numbers of files, by turn. */
  List<Long> fileIds() {
    return files;
  }

  /** Memory is full: what was in it goes to disk, and files are surveyed from now on. */
  void overflow() {
    surveyAll = true;
    if (policy.scope() == Scope.FILE) {
      return;
    }
    known = new HashSpool(0);
    table.forEach(
        (high, low, place) -> {
          if (!isDead(place)) {
            known.add(high, low, place, new long[0]);
          }
        });
    closeTable();
  }

  /** The feed has more columns from now on: what the table holds is looked at again. */
  void grown(Feed other) {
    feed = other;
    mark = "";
  }

  /** A file was not posted after all: its rows do not count. */
  void forget(int turn) {
    dead.set(turn);
  }

  /** All that was read so far was undone and begins again. */
  void forgetAll() {
    dead.set(0, files.size());
    mark = "";
  }

  /** The current work was undone and begins again. */
  void forgetLast() {
    if (!files.isEmpty()) {
      forget(files.size() - 1);
    }
  }

  /** Some rows of a file are not in the table after all. */
  void forget(int turn, long[] records) {
    int none = turn(0L);
    dead.set(none);
    table.forEach(
        (high, low, place) -> {
          if (Place.file(place) == turn && Arrays.binarySearch(records, Place.record(place)) >= 0) {
            table.replace(table.slot(high, low), Place.of(none, 1));
          }
        });
  }

  private void closeTable() {
    if (table != null) {
      table.close();
      table = null;
    }
  }

  @Override
  public void close() {
    closeTable();
    if (known != null) {
      known.close();
      known = null;
    }
  }
}
