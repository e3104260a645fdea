package dev.dusky.core.dispatch;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.dispatch.DispatchPart.Assigned;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.expect.Volume;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.repeat.Place;
import dev.dusky.core.repeat.RepeatRuns;
import dev.dusky.core.tally.ControlTotal;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.type.SqlType;
import java.io.IOException;
import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.stream.IntStream;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;

/** Orders and reports arrive as they were sent. */
class FileReportTest {

  private final Random random = new Random();

  private String text() {
    return List.of("", "a", "Mølle 😀", "two\nlines \"quoted\"", "\u0000").get(random.nextInt(5));
  }

  private <T> Optional<T> maybe(T value) {
    return random.nextBoolean() ? Optional.of(value) : Optional.empty();
  }

  private BigDecimal number() {
    return new BigDecimal(random.nextLong()).movePointLeft(random.nextInt(9));
  }

  private RepeatRuns runs() {
    RepeatRuns runs = new RepeatRuns();
    long record = 0;
    for (int i = random.nextInt(40); i >= 0; i--) {
      record += 1 + random.nextInt(3);
      runs.add(record, Place.of(random.nextInt(2), random.nextInt(5)));
    }
    return runs;
  }

  private static List<String> listed(RepeatRuns runs) {
    List<String> all = new ArrayList<>();
    runs.forEach(
        (first, count, file, record) -> all.add(first + " " + count + " " + file + " " + record));
    return all;
  }

  private FileOutcome outcome(RepeatRuns left) {
    return new FileOutcome(
        random.nextBoolean() ? FileState.POSTED : FileState.REFUSED,
        new Tally(random.nextInt(), random.nextInt(), 3, 4, 5, 6),
        random.nextLong(),
        random.nextLong(),
        maybe(text()),
        Duration.ofNanos(random.nextInt(1_000_000_000)),
        Optional.empty(),
        text(),
        text().getBytes(java.nio.charset.StandardCharsets.UTF_8),
        maybe(random.nextLong()),
        List.of(new ControlTotal("litres", number(), number(), number(), maybe(number()))),
        Map.of("a", random.nextLong(), "b", 0L),
        new FileOutcome.Repeats(maybe(random.nextLong()), left, List.of(7L, random.nextLong())),
        List.of(
            new Drift(
                text(),
                Drift.Change.values()[random.nextInt(3)],
                text(),
                Drift.Action.values()[random.nextInt(6)],
                random.nextLong(),
                text(),
                maybe(text()),
                text())));
  }

  private Reject reject(long number) {
    byte[] raw = new byte[random.nextInt(2_000)];
    random.nextBytes(raw);
    return new Reject(
        number,
        random.nextLong(),
        random.nextLong(),
        text(),
        raw,
        random.nextBoolean(),
        random.nextInt(),
        Reject.NO_CONTEXT,
        List.of(new Problem(RejectCode.values()[random.nextInt(5)], text(), text(), text())));
  }

  private static List<String> listed(RejectSpool rejects) {
    List<String> all = new ArrayList<>();
    rejects.forEach(
        r ->
            all.add(
                "%d %d %d %s %s %s %d %s"
                    .formatted(
                        r.recordNumber(),
                        r.line(),
                        r.byteOffset(),
                        r.place(),
                        java.util.Arrays.toString(r.raw()),
                        r.rawCut(),
                        r.piece(),
                        r.problems())));
    return all;
  }

  @RepeatedTest(20)
  void aReportIsReadAsItWasWritten() throws IOException {
    RepeatRuns left = random.nextBoolean() ? runs() : null;
    FileOutcome sent = outcome(left);
    RejectSpool rejects = new RejectSpool();
    for (int i = random.nextInt(60); i > 0; i--) {
      rejects.add(reject(i));
    }
    List<FileReport> reports =
        List.of(
            FileReport.notHere(),
            new FileReport(Optional.of(sent), rejects, List.of(text(), "{}")));
    List<FileReport> read = FileReport.read(FileReport.bytes(reports));
    assertEquals(2, read.size());
    assertTrue(read.get(0).outcome().isEmpty() && read.get(0).rejects().count() == 0);
    assertEquals(reports.get(1).written(), read.get(1).written());
    assertEquals(listed(rejects), listed(read.get(1).rejects()));
    FileOutcome got = read.get(1).outcome().orElseThrow();
    assertArrayEquals(sent.preamble(), got.preamble());
    assertEquals(sent.repeats().seen(), got.repeats().seen());
    boolean named = left != null && !listed(left).isEmpty(); // else nothing speaks of files
    assertEquals(named ? sent.repeats().files() : List.of(), got.repeats().files());
    assertEquals(left == null, got.repeats().left() == null);
    if (left != null) {
      assertEquals(listed(left), listed(got.repeats().left()));
    }
    assertEquals(
        List.of(
            sent.state(),
            sent.tally(),
            sent.storedBytes(),
            sent.contentBytes(),
            sent.fingerprint(),
            sent.elapsed(),
            sent.message(),
            sent.expectedRows(),
            sent.totals(),
            sent.nulls(),
            sent.drifts()),
        List.of(
            got.state(),
            got.tally(),
            got.storedBytes(),
            got.contentBytes(),
            got.fingerprint(),
            got.elapsed(),
            got.message(),
            got.expectedRows(),
            got.totals(),
            got.nulls(),
            got.drifts()));
    reports.forEach(FileReport::close);
    read.forEach(FileReport::close);
  }

  @RepeatedTest(20)
  void filesAreDividedInTheirOrderAndEachIsInOnePart() throws IOException {
    List<Assigned> files = new ArrayList<>();
    for (int i = random.nextInt(300); i > 0; i--) {
      long size =
          random.nextInt(5) == 0 ? (9L << 20) + random.nextInt(1 << 30) : random.nextInt(1 << 22);
      files.add(new Assigned(new StagedFile("f" + i, size, text(), Instant.now()), i));
    }
    List<DispatchPart> parts = DispatchPart.divide(files);
    assertEquals(files, parts.stream().flatMap(part -> part.files().stream()).toList());
    for (DispatchPart part : parts) {
      assertEquals(part, SurveyPart.read(part.bytes()));
      long bytes = part.files().stream().mapToLong(f -> f.file().size()).sum();
      assertTrue(part.files().size() == 1 || part.files().size() <= 64 && bytes <= 32L << 20);
    }
  }

  @Test
  void anOrderIsReadAsItWasWritten() throws IOException {
    DispatchOrder order =
        DispatchOrder.of("a.Worker", "feeds: {}\n", "/x/dusky.yaml", "milk", maybe("0.5%"))
            .in(
                7,
                Instant.now(),
                IntStream.range(0, 3)
                    .mapToObj(
                        i ->
                            new GrownColumn(
                                "c" + i, text(), SqlType.parse("decimal(9,2)").orElseThrow()))
                    .toList(),
                "s3://lake/x.metadata.json",
                List.of(
                    new Volume(text(), Instant.now(), 4, 300, 1, 3, Map.of("farm", 2L)),
                    new Volume(text(), Instant.now(), 9, 7, 0, 9, Map.of())));
    assertEquals(order, DispatchOrder.read(order.bytes()));
  }
}
