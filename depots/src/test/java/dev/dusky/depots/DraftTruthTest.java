package dev.dusky.depots;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.draft.Drafter;
import dev.dusky.core.draft.FeedDraft;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.type.TypeKind;
import dev.dusky.depots.directory.DirectoryDepot;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Drafts 300 varied files whose truth is known, and counts how many decisions are right. */
class DraftTruthTest {

  private static final int FILES = 120;

  @TempDir Path folder;

  /** Right decisions of all, by property. */
  private final Map<String, int[]> score = new TreeMap<>();

  private final List<String> wrong = new ArrayList<>();

  private void count(VariedFile file, long seed, String property, boolean right, Object decided) {
    int[] counts = score.computeIfAbsent(property, p -> new int[2]);
    counts[0] += right ? 1 : 0;
    counts[1]++;
    if (!right) {
      wrong.add("file %d, %s: drafted %s; %s".formatted(seed, property, decided, file));
    }
  }

  @Test
  void nearlyEveryDecisionIsRight() throws IOException {
    try (DirectoryDepot depot = new DirectoryDepot("yard", folder)) {
      for (long seed = 1; seed <= FILES; seed++) {
        VariedFile file = new VariedFile(seed);
        String path = "f%d/data.txt".formatted(seed);
        Files.createDirectories(folder.resolve(path).getParent());
        Files.write(folder.resolve(path), file.bytes());
        StagedFile staged = depot.look(path).orElseThrow();
        FeedDraft draft =
            new Drafter(depot, "intake", List.of()).draft("f", List.of(staged)).get(0);
        assertTrue(
            draft.rejected() * 1000 <= draft.read(),
            () -> "%s: %d of %d rejected".formatted(file, draft.rejected(), draft.read()));
        judge(file, seed, draft);
      }
    }
    int right = score.values().stream().mapToInt(c -> c[0]).sum();
    int all = score.values().stream().mapToInt(c -> c[1]).sum();
    score.forEach(
        (property, counts) ->
            System.out.printf(
                Locale.ROOT, "draft truth: %-14s %4d of %4d%n", property, counts[0], counts[1]));
    System.out.printf(Locale.ROOT, "draft truth: all %d of %d%n", right, all);
    assertTrue(
        right >= all * 0.97,
        () -> "%d of %d right:\n%s".formatted(right, all, String.join("\n", wrong)));
  }

  private void judge(VariedFile file, long seed, FeedDraft draft) {
    if (!(draft.feed().layout() instanceof DelimitedLayout layout)) {
      count(file, seed, "kind", false, draft.feed().layout().kind());
      return;
    }
    count(file, seed, "kind", true, "");
    count(file, seed, "delimiter", layout.delimiter().equals(file.delimiter), layout.delimiter());
    boolean quotesMatter =
        file.columns.stream().anyMatch(c -> c.content() == VariedFile.Content.TEXT);
    if (quotesMatter) {
      count(file, seed, "quote", layout.quote() == file.quote, (char) layout.quote());
    }
    String encoding = file.encoding.replace(" marked", "");
    count(
        file,
        seed,
        "encoding",
        layout.encoding().label().equals(encoding),
        layout.encoding().label());
    boolean header = layout.header() == HeaderUse.NAMES;
    count(file, seed, "header", header == file.header, header);
    count(file, seed, "titles", layout.skipLines() == file.titleLines, layout.skipLines());
    count(
        file,
        seed,
        "ragged",
        (layout.shortRecords() == ShortRecords.FILL) == file.ragged,
        layout.shortRecords());
    if (!file.nullMark.isEmpty()) {
      count(file, seed, "null mark", layout.nulls().contains(file.nullMark), layout.nulls());
    }
    for (int i = 0; i < file.columns.size(); i++) {
      boolean there = i < draft.feed().columns().size();
      judge(file, seed, file.columns.get(i), there ? draft.feed().columns().get(i) : null);
    }
  }

  private void judge(VariedFile file, long seed, VariedFile.Column truth, FeedColumn drafted) {
    if (drafted == null) {
      count(file, seed, "column", false, "missing");
      return;
    }
    if (file.header) {
      count(file, seed, "name", drafted.name().equals(truth.name()), drafted.name());
    }
    TypeKind kind = drafted.type().kind();
    String decided = drafted.type() + " " + drafted.pattern().orElse("") + " " + drafted.marks();
    String property = truth.content().name().toLowerCase(Locale.ROOT);
    boolean right =
        switch (truth.content()) {
          case NUMBER -> kind == TypeKind.INTEGER || kind == TypeKind.BIGINT;
          case LARGE_NUMBER -> kind == TypeKind.BIGINT;
          case ZERO_CODE, PHONE, EXPONENT_CODE, TEXT -> kind.isText();
          case DECIMAL ->
              kind == TypeKind.DECIMAL
                  && drafted.type().scale() == 2
                  && drafted.marks().decimal() == truth.form().charAt(0)
                  && drafted
                      .marks()
                      .group()
                      .equals(truth.form().length() > 1 ? truth.form().substring(1) : "");
          case DATE -> kind == TypeKind.DATE && pattern(drafted, truth, "yyyy-MM-dd");
          case TIMESTAMP ->
              kind == TypeKind.TIMESTAMP && pattern(drafted, truth, "yyyy-MM-dd HH:mm:ss");
          case TRUTH -> kind == TypeKind.BOOLEAN && pattern(drafted, truth, "true/false");
          case UUID -> kind == TypeKind.UUID;
        };
    count(file, seed, property, right, decided);
  }

  private static boolean pattern(FeedColumn drafted, VariedFile.Column truth, String usual) {
    return drafted.pattern().orElse(usual).equals(truth.form());
  }

  @Test
  void theSameSeedMakesTheSameFile() {
    assertEquals(new VariedFile(5).toString(), new VariedFile(5).toString());
    org.junit.jupiter.api.Assertions.assertArrayEquals(
        new VariedFile(9).bytes(), new VariedFile(9).bytes());
  }
}
