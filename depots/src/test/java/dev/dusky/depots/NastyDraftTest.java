package dev.dusky.depots;

import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.draft.Drafter;
import dev.dusky.core.draft.FeedDraft;
import dev.dusky.core.preview.Preview;
import dev.dusky.core.preview.PreviewMode;
import dev.dusky.core.preview.PreviewRecord;
import dev.dusky.depots.directory.DirectoryDepot;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Drafts nasty files and reads them with the draft, and what their senders send next. A draft may
 * lose or change a value without a mark in one of fifty, and be refused the next day in one of
 * twenty. Every third file is held out: the guesses were tuned on the others alone.
 */
class NastyDraftTest {

  private static final int FILES = 100;

  @TempDir Path folder;

  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void hardlyAnyDraftLosesOrChangesAnythingWithoutAMark(boolean heldOut) throws IOException {
    List<String> silent = new ArrayList<>();
    List<String> refused = new ArrayList<>();
    int files = 0;
    try (DirectoryDepot depot = new DirectoryDepot("yard", folder)) {
      for (long seed = 1; seed <= FILES; seed++) {
        if (seed % 3 == 0 != heldOut) {
          continue;
        }
        files++;
        NastyFile file = new NastyFile(seed);
        StagedFile staged = put(depot, "n" + seed + "/day-1.csv", file);
        FeedDraft draft =
            new Drafter(depot, "intake", List.of()).draft("f", List.of(staged)).get(0);
        Optional<String> wrong = wrong(depot, staged, file, draft);
        if (wrong.isPresent() && !marks(draft)) {
          silent.add(file + ": " + wrong.get());
        }
        StagedFile next = put(depot, "n" + seed + "/day-2.csv", file.next());
        refusal(depot, next, draft).ifPresent(r -> refused.add(file + ": " + r));
      }
    }
    System.out.printf(
        Locale.ROOT,
        "nasty drafts, %s: %d files, %d changed in silence, %d refused the next day%n",
        heldOut ? "held out" : "tuned on",
        files,
        silent.size(),
        refused.size());
    assertTrue(silent.size() * 50 <= files, () -> String.join("\n", silent));
    assertTrue(refused.size() * 20 <= files, () -> String.join("\n", refused));
  }

  /** Whether anything but the pattern of a lone file is marked, which every draft here has. */
  private static boolean marks(FeedDraft draft) {
    return draft.evidence().stream().anyMatch(e -> e.doubtful() && !e.about().equals("files"));
  }

  private StagedFile put(DirectoryDepot depot, String path, NastyFile file) throws IOException {
    Files.createDirectories(folder.resolve(path).getParent());
    Files.write(folder.resolve(path), file.bytes());
    return depot.look(path).orElseThrow();
  }

  private static Optional<String> refusal(DirectoryDepot depot, StagedFile file, FeedDraft draft)
      throws IOException {
    Preview look = Preview.at(depot, file, draft.feed(), PreviewMode.FIRST, 10_000, 1);
    boolean within = draft.feed().policies().tolerance().allows(look.rejected(), look.read());
    return look.refusal()
        .or(
            () ->
                within
                    ? Optional.empty()
                    : Optional.of(
                        "%d of %d rejected: %s"
                            .formatted(
                                look.rejected(),
                                look.read(),
                                look.records().stream()
                                    .flatMap(r -> r.problems().stream())
                                    .findFirst()
                                    .orElse(""))));
  }

  /** The first thing that is lost or changed when the file is read with its draft. */
  private static Optional<String> wrong(
      DirectoryDepot depot, StagedFile staged, NastyFile file, FeedDraft draft) throws IOException {
    Preview look = Preview.at(depot, staged, draft.feed(), PreviewMode.FIRST, 10_000, 1);
    if (look.refusal().isPresent()) {
      return Optional.empty(); // told, and counted by the next day's file
    }
    List<PreviewRecord> records = look.records();
    if (records.size() != file.rows.size()) {
      return Optional.of(records.size() + " rows for " + file.rows.size());
    }
    for (int r = 0; r < file.rows.size(); r++) {
      PreviewRecord record = records.get(r);
      if (!record.problems().isEmpty()) {
        continue; // a reject is not silent
      }
      for (int c = 0; c < file.columns(); c++) {
        String truth = file.rows.get(r).get(c);
        String value = c < record.values().size() ? record.values().get(c) : null;
        if (!same(truth, value)) {
          return Optional.of("row %d: '%s' became '%s'".formatted(r + 1, truth, value));
        }
      }
    }
    return Optional.empty();
  }

  private static boolean same(String truth, String value) {
    if (truth == null || value == null) {
      return truth == null ? value == null || value.equals("NULL") : false;
    }
    if (truth.equals(value) || value.equals(NastyFile.day(truth))) {
      return true;
    }
    if (value.equals("true") || value.equals("false")) {
      return truth.equals("Y") == value.equals("true");
    }
    try {
      // A text with zeroes in front is not the number that it looks like.
      boolean zero = truth.matches("0\\d+");
      return !zero && new BigDecimal(truth).compareTo(new BigDecimal(value)) == 0;
    } catch (NumberFormatException e) {
      return false;
    }
  }
}
