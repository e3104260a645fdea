package dev.dusky.app.journal;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.ledger.DriftLine;
import dev.dusky.core.ledger.Journal;
import dev.dusky.core.ledger.JournalChoice;
import dev.dusky.core.ledger.LoadLine;
import dev.dusky.core.ledger.MergeLine;
import dev.dusky.core.ledger.MergeRejectLine;
import dev.dusky.core.ledger.TallyLine;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Optional;

/** Reads the history. */
public final class ReadJournal {

  /** The least number of drifts that are read. */
  private static final int LEAST_DRIFTS = 100;

  /** Loads and merges, newest first. */
  public record Entries(List<LoadLine> loads, List<MergeLine> merges) {}

  /** One merge, its files and its rejects. */
  public record OneMerge(MergeLine line, List<TallyLine> files, List<MergeRejectLine> rejects) {}

  private final Journal journal;

  /** The history of that workspace. A name must be that of a feed or a merge. */
  public ReadJournal(Workspace workspace, Optional<String> name) {
    name.filter(n -> !workspace.configuration().merges().containsKey(n))
        .ifPresent(workspace.configuration()::feed);
    workspace.closeInterrupted();
    this.journal = workspace.warehouse().ledger().journal();
  }

  /** The newest loads and merges. */
  public Entries entries(JournalChoice choice, int most) {
    return new Entries(journal.loads(choice, most), journal.merges(choice, most));
  }

  /** The files of a load. */
  public List<TallyLine> load(long id) {
    return journal.files(id);
  }

  /** One merge. */
  public OneMerge merge(long id) {
    MergeLine line =
        journal.merges(JournalChoice.ALL, Integer.MAX_VALUE).stream()
            .filter(merge -> merge.mergeId() == id)
            .findFirst()
            .orElseThrow(
                () ->
                    Failure.usage("There is no merge " + Figures.count(id))
                        .hint("See the merges with {}", Invocation.of("journal")));
    return new OneMerge(line, journal.mergedFiles(id), journal.mergeRejects(id));
  }

  /**
   * The newest drifts of the chosen feed and file.
   *
   * @param load only drifts of this load; null for all
   */
  public List<DriftLine> drifts(JournalChoice choice, Long load, int most) {
    return journal.drifts(
        choice.name(), Optional.ofNullable(load), choice.file(), Math.max(most, LEAST_DRIFTS));
  }

  /** The day that an option gives. */
  public static LocalDate day(String text) {
    try {
      return LocalDate.parse(text);
    } catch (DateTimeParseException e) {
      throw Failure.usage("--day cannot be '" + text + "'")
          .hint("Write year, month and day, such as 2026-03-02")
          .from(e);
    }
  }

  /** The state that an option gives. */
  public static String state(String word) {
    if (!word.matches("running|done|failed|interrupted")) {
      throw Failure.usage("--state cannot be '" + word + "'")
          .hint("It is running, done, failed or interrupted");
    }
    return word;
  }
}
