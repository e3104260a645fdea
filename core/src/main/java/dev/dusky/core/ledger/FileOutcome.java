package dev.dusky.core.ledger;

import dev.dusky.core.drift.Drift;
import dev.dusky.core.repeat.RepeatRuns;
import dev.dusky.core.tally.ControlTotal;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The outcome of a file in a load.
 *
 * @param state its new state
 * @param tally its account
 * @param storedBytes bytes taken from the depot
 * @param contentBytes bytes after decompression
 * @param fingerprint of the uncompressed bytes, if it was read to the end
 * @param elapsed how long it took
 * @param twinOf the posted file with the same content
 * @param message what people should know, or an empty string
 * @param preamble what must precede the raw bytes of its records to read them again
 * @param expectedRows how many records its sender states
 * @param totals the sums of its columns
 * @param nulls how many loaded rows have null, by column, where that is counted
 * @param repeats the repeats among its rows
 * @param drifts how it differs from its feed, and what was done about it
 */
public record FileOutcome(
    FileState state,
    Tally tally,
    long storedBytes,
    long contentBytes,
    Optional<String> fingerprint,
    Duration elapsed,
    Optional<FileEntry> twinOf,
    String message,
    byte[] preamble,
    Optional<Long> expectedRows,
    List<ControlTotal> totals,
    Map<String, Long> nulls,
    Repeats repeats,
    List<Drift> drifts) {

  /**
   * The same, to be entered after its file was released; its repeats are closed after it is
   * entered.
   */
  public FileOutcome taken() {
    return new FileOutcome(
        state,
        tally,
        storedBytes,
        contentBytes,
        fingerprint,
        elapsed,
        twinOf,
        message,
        preamble,
        expectedRows,
        totals,
        nulls,
        repeats.taken(),
        drifts);
  }

  /** What becomes of a file that could be posted, but has the content of a posted one. */
  public FileOutcome asTwinOf(FileEntry original) {
    return notPosted(
        FileState.TWIN,
        Tally.twin(tally.read()),
        Optional.of(original),
        "same content as %s, posted in load %d"
            .formatted(original.path(), original.loadId().orElseThrow()),
        totals.stream().map(ControlTotal::asDuplicate).toList(),
        nulls);
  }

  /** The same for a file that is refused although nothing is wrong with it. */
  public FileOutcome refusedFor(String why) {
    return notPosted(
        FileState.REFUSED, tally.withheldAll(), Optional.empty(), why, List.of(), Map.of());
  }

  /** What becomes of a file that could be posted, but has too many rejects with those before it. */
  public FileOutcome beyondTolerance(String why) {
    return notPosted(FileState.REFUSED, tally.withheldAll(), Optional.empty(), why, totals, nulls);
  }

  private FileOutcome notPosted(
      FileState as,
      Tally account,
      Optional<FileEntry> original,
      String why,
      List<ControlTotal> sums,
      Map<String, Long> missing) {
    return new FileOutcome(
        as,
        account,
        storedBytes,
        contentBytes,
        fingerprint,
        elapsed,
        original,
        why,
        preamble,
        expectedRows,
        sums,
        missing,
        Repeats.NONE,
        drifts);
  }

  /**
   * The repeats among a file's rows.
   *
   * @param seen how many exact ones were seen and loaded all the same, if they were only counted
   * @param left those that were left out; null if there are none
   * @param files the ledger's numbers of the files that they speak of, by turn
   */
  public record Repeats(Optional<Long> seen, RepeatRuns left, List<Long> files) {

    /** The same, for an outcome that is entered after its file was released. */
    Repeats taken() {
      return left == null ? this : new Repeats(seen, left.taken(), List.copyOf(files));
    }

    /** Nobody looked. */
    public static final Repeats NONE = new Repeats(Optional.empty(), null, List.of());
  }
}
