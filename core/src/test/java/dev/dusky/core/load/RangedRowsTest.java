package dev.dusky.core.load;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.bytes.StorageException;
import dev.dusky.core.expect.Trailer;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.FixedField;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.record.Layouts;
import dev.dusky.core.record.RangeBytes;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.record.TrailerReader;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.LongVector;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.function.Supplier;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Whatever the ranges, rows, rejects, their places and the fingerprint are those of one reading.
 */
class RangedRowsTest {

  private static final String[] PIECES = {
    "a",
    "bc",
    "\"",
    "\"\"",
    "\n",
    "\r\n",
    "\r\r\n",
    "ä",
    "some longer words",
    " ",
    "7",
    "\\",
    "#",
    "\",\"",
    "é"
  };

  /** All that a reading gives, and how many ranges were read again. */
  private record Reading(List<String> told, long wrong) {}

  private static Feed feed(Layout layout) {
    return new Feed(
        "f",
        "yard",
        FilePattern.of("*"),
        layout,
        new TableName("a", "b"),
        false,
        List.of(
            FeedColumn.plain("n", SqlType.parse("bigint").orElseThrow(), true),
            FeedColumn.plain("t", SqlType.parse("text").orElseThrow(), false)),
        Optional.empty(),
        List.of(),
        FeedPolicies.DEFAULT.withRejectCap(1_000_000));
  }

  private static RangeBytes of(byte[] file) {
    return (position, length) ->
        Arrays.copyOfRange(
            file,
            (int) position,
            (int) Math.min(file.length, Math.max(position, position + length)));
  }

  /** Reads a file in ranges of that many bytes, or whole if 0. */
  private static Reading read(byte[] file, Layout layout, int range, RangeBytes source)
      throws Exception {
    return read(file, layout, range, source, Optional.empty());
  }

  private static Reading read(
      byte[] file, Layout layout, int range, RangeBytes source, Optional<Trailer> trailer)
      throws Exception {
    Feed feed = feed(layout);
    FileContent content =
        new FileContent("t", new ByteArrayInputStream(file), ContentLimits.DEFAULT);
    RecordReader plain =
        Readers.open(SourceFile.of("t", content), layout, FeedInputs.of(feed).request());
    RecordReader reader = TrailerReader.around("t", plain, layout, trailer);
    FieldPlan plan = FieldPlan.of(feed, "t", reader.names());
    Supplier<Binder> binders = () -> new Binder(feed, plan, new FileFacts(Map.of()), false);
    List<String> told = new ArrayList<>();
    long wrong = 0;
    try (RowSource rows =
        range > 0
            ? new RangedRows("a.csv", reader, file.length, range, source, content, binders, 3)
            : new RowPipeline("a.csv", reader, binders)) {
      for (RowBatch batch = rows.next(); batch != null; batch = rows.next()) {
        for (int i = 0; i < batch.count(); i++) {
          told.add(row(batch, batch.selected(i)));
        }
        batch.rejects().forEach(reject -> told.add(told(reject)));
        rows.recycle(batch);
      }
      content.readAllBytes();
      wrong = rows instanceof RangedRows ranged ? ranged.wrong() : 0;
    }
    told.sort(null); // a batch gives its rows first, then its rejects
    told.add(content.fingerprint() + " " + content.contentBytes());
    if (reader instanceof TrailerReader ended) {
      told.add(ended.figures().toString());
    }
    return new Reading(told, wrong);
  }

  private static String row(RowBatch batch, int row) {
    BytesVector text = (BytesVector) batch.columns().get(1);
    return "%09d row %d %s"
        .formatted(
            batch.recordNumber(row),
            ((LongVector) batch.columns().get(0)).get(row),
            text.isNull(row) ? null : text.text(row));
  }

  private static String told(Reject reject) {
    return "%09d reject line %d byte %d %s %s %s"
        .formatted(
            reject.recordNumber(),
            reject.line(),
            reject.byteOffset(),
            reject.rawCut(),
            new String(reject.raw(), StandardCharsets.ISO_8859_1),
            reject.problems());
  }

  private static Reading same(byte[] file, Layout layout, int range) throws Exception {
    Reading whole = read(file, layout, 0, null);
    Reading ranged = read(file, layout, range, of(file));
    for (int i = 0; i < Math.min(whole.told().size(), ranged.told().size()); i++) {
      assertEquals(whole.told().get(i), ranged.told().get(i), "in ranges of " + range + " bytes");
    }
    assertEquals(whole.told().size(), ranged.told().size());
    return ranged;
  }

  private static String randomText(Random random, boolean broken) {
    StringBuilder text = new StringBuilder("n,t\n");
    for (int r = random.nextInt(300); r > 0; r--) {
      StringBuilder field = new StringBuilder();
      for (int p = random.nextInt(6); p > 0; p--) {
        field.append(PIECES[random.nextInt(PIECES.length)]);
      }
      String value = field.toString();
      boolean raw = broken && random.nextInt(12) == 0;
      text.append(random.nextInt(8) == 0 ? "x" : Integer.toString(r))
          .append(',')
          .append(raw ? value : '"' + value.replace("\"", "\"\"") + '"')
          .append(random.nextInt(10) == 0 ? ",more" : "")
          .append(random.nextInt(3) == 0 ? "\r\n" : "\n");
      if (random.nextInt(20) == 0) {
        text.append(random.nextBoolean() ? "\n\n" : "# a remark, \"it's\n");
      }
    }
    if (random.nextBoolean()) {
      text.setLength(text.length() - 1);
    }
    return text.toString();
  }

  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void delimitedTextOfAnySortReadsTheSame(boolean broken) throws Exception {
    Random random = new Random(broken ? 11 : 12);
    for (int round = 0; round < 40; round++) {
      boolean latin = random.nextInt(4) == 0;
      Layouts made = Layouts.plain().with(l -> l.header = HeaderUse.NAMES);
      made.encoding = latin ? Encoding.WINDOWS_1252 : Encoding.UTF_8;
      made.comment = random.nextBoolean() ? "#" : "";
      made.escape = random.nextInt(3) == 0 ? '\\' : DelimitedLayout.NONE;
      made.trim = random.nextInt(4) == 0;
      made.recordLimit = random.nextInt(4) == 0 ? 60 : made.recordLimit;
      Charset charset = latin ? Charset.forName("windows-1252") : StandardCharsets.UTF_8;
      byte[] file = randomText(random, broken).getBytes(charset);
      same(file, made.build(), 1 + random.nextInt(random.nextBoolean() ? 40 : 3000));
    }
  }

  @Test
  void quotedLineEndsAreGuessedRightNearlyAlways() throws Exception {
    Random random = new Random(13);
    StringBuilder text = new StringBuilder("n,t\n");
    while (text.length() < 400_000) {
      text.append("1,\"").append("a line,\nand one, \"\"more\"\"\n".repeat(random.nextInt(30)));
      text.append("the end\"\n");
    }
    byte[] file = text.toString().getBytes(StandardCharsets.UTF_8);
    Layout layout = Layouts.plain().with(l -> l.header = HeaderUse.NAMES).build();
    Reading reading = same(file, layout, 4096);
    assertTrue(reading.wrong() <= file.length / 4096 / 20, reading.wrong() + " ranges read again");
  }

  @Test
  void aRecordOverManyRangesAndOneOverTheLimitAreOneRecordEach() throws Exception {
    Layout layout =
        Layouts.plain()
            .with(
                l -> {
                  l.header = HeaderUse.NAMES;
                  l.recordLimit = 100_000;
                })
            .build();
    String wide = "y".repeat(300_000);
    String text =
        "n,t\n1,\"" + "z\n".repeat(40_000) + "\"\n2," + wide + "\n3,c\n4,\"" + "q\n".repeat(60_000);
    Reading reading = same(text.getBytes(StandardCharsets.UTF_8), layout, 20_000);
    assertTrue(reading.told().stream().anyMatch(line -> line.contains("row 3 c")));
  }

  @Test
  void jsonLinesReadTheSame() throws Exception {
    Random random = new Random(14);
    for (int round = 0; round < 20; round++) {
      StringBuilder text = new StringBuilder();
      for (int r = 0; r < 200; r++) {
        text.append(
                "{\"n\": %d, \"t\": \"%s\"}".formatted(r, "\\n{\u00e4}".repeat(random.nextInt(9))))
            .append(random.nextInt(9) == 0 ? "\r\n\n" : "\n")
            .append(random.nextInt(30) == 0 ? "{\"n\": tru\n" : "");
      }
      byte[] file = text.toString().getBytes(StandardCharsets.UTF_8);
      Reading reading = same(file, JsonLayout.plain("l"), 1 + random.nextInt(500));
      assertTrue(reading.wrong() <= 1, "line ends need no guess");
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "\n", "\r\n", "\r\r\n"})
  void fixedRecordsWithAndWithoutLineEndsReadTheSame(String lineEnd) throws Exception {
    Random random = new Random(15);
    for (int length : new int[] {0, 12}) {
      for (Encoding encoding : List.of(Encoding.UTF_8, Encoding.ISO_8859_1)) {
        if (length == 0 && lineEnd.isEmpty()) {
          continue;
        }
        FixedLayout layout =
            new FixedLayout(
                "l",
                List.of(
                    new FixedField("n", 1, 5, FixedField.Alignment.RIGHT, ' ', ""),
                    new FixedField("t", 6, 7, FixedField.Alignment.LEFT, ' ', "")),
                length,
                Optional.empty(),
                0,
                ShortRecords.REJECT,
                encoding,
                List.of(),
                1 << 20);
        StringBuilder text = new StringBuilder();
        for (int r = 0; r < 400; r++) {
          boolean odd = random.nextInt(25) == 0;
          text.append("%5s%-7s%s".formatted(odd ? "x" : r, "caf\u00e9".substring(r % 3), lineEnd));
        }
        Charset charset =
            encoding == Encoding.UTF_8 ? StandardCharsets.UTF_8 : StandardCharsets.ISO_8859_1;
        byte[] file = text.toString().getBytes(charset);
        same(file, layout, 1 + random.nextInt(300));
      }
    }
  }

  @Test
  void aTrailerIsTheLastRecordOrNone() throws Exception {
    Optional<Trailer> trailer =
        Optional.of(new Trailer("END", Optional.of(new Trailer.Field(2)), Map.of()));
    Layout layout = Layouts.plain().with(l -> l.header = HeaderUse.NAMES).build();
    Random random = new Random(18);
    for (int round = 0; round < 40; round++) {
      String rows = randomText(random, false).strip() + "\n";
      String end = List.of("END,%d\n", "END,%d", "END,x%d\n", "").get(round % 4);
      String more = round % 4 == 2 ? "" : "1,a\n".repeat(random.nextInt(4));
      byte[] file = (rows + end.formatted(round) + more).getBytes(StandardCharsets.UTF_8);
      int range = 1 + random.nextInt(200);
      assertEquals(outcome(file, layout, 0, trailer), outcome(file, layout, range, trailer));
    }
  }

  /** What a reading gives, or why it ends. */
  private static List<String> outcome(
      byte[] file, Layout layout, int range, Optional<Trailer> trailer) throws Exception {
    try {
      return read(file, layout, range, of(file), trailer).told();
    } catch (Failure failure) {
      return List.of(failure.getMessage());
    }
  }

  @Test
  void rowsThatNobodyWantsAnyMoreAreLeftInTheMiddle() throws Exception {
    byte[] file = randomText(new Random(17), false).repeat(20).getBytes(StandardCharsets.UTF_8);
    Layout layout = Layouts.plain().with(l -> l.header = HeaderUse.NAMES).build();
    Feed feed = feed(layout);
    for (int taken = 0; taken < 30; taken++) {
      FileContent content =
          new FileContent("t", new ByteArrayInputStream(file), ContentLimits.DEFAULT);
      RecordReader reader =
          Readers.open(SourceFile.of("t", content), layout, FeedInputs.of(feed).request());
      FieldPlan plan = FieldPlan.of(feed, "t", reader.names());
      try (RowSource rows =
          new RangedRows(
              "a.csv",
              reader,
              file.length,
              64,
              of(file),
              content,
              () -> new Binder(feed, plan, new FileFacts(Map.of()), false),
              3)) {
        for (int i = 0; i < taken; i++) {
          rows.recycle(rows.next());
        }
      }
      assertTrue(
          Thread.getAllStackTraces().keySet().stream()
              .noneMatch(thread -> thread.getName().equals("dusky-range")));
    }
  }

  @Test
  void aFailureOfTheStorageReachesTheCaller() throws Exception {
    byte[] file = randomText(new Random(16), false).getBytes(StandardCharsets.UTF_8);
    Layout layout = Layouts.plain().with(l -> l.header = HeaderUse.NAMES).build();
    StorageException cut = new StorageException("cut", null);
    RangeBytes source =
        (position, length) -> {
          if (position > file.length / 2) {
            throw cut;
          }
          return of(file).bytes(position, length);
        };
    IOException thrown =
        assertThrows(StorageException.class, () -> read(file, layout, 100, source));
    assertSame(cut, thrown);
  }
}
