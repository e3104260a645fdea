package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.report.FileSum;
import dev.dusky.core.report.RejectSum;
import dev.dusky.core.report.ReportEntries;
import dev.dusky.core.report.Settled;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** The figures of reports, compared with a ledger of random entries that is kept in memory too. */
abstract class ReportContract extends WarehouseTesting {

  private static final Instant START = Instant.parse("2026-01-01T00:00:00Z");
  private static final List<String> FEEDS = List.of("collections", "it's \"odd\"", "farms");
  private static final String OPEN = "open";

  private record Entry(
      String feed, String path, String state, Instant at, long[] rows, long bytes, long millis) {}

  private record Odd(String feed, String column, String code, String state, Instant at) {}

  private final List<Entry> entries = new ArrayList<>();
  private final List<Odd> rejects = new ArrayList<>();

  private static String quoted(String text) {
    return "'" + text.replace("'", "''") + "'";
  }

  private static String at(Instant moment) {
    return "timestamp with time zone '" + moment.toString().replace("T", " ").replace("Z", "+00'");
  }

  private void fill(Random random) {
    List<String> files = new ArrayList<>();
    List<String> tallies = new ArrayList<>();
    List<String> odd = new ArrayList<>();
    List<String> problems = new ArrayList<>();
    execute(
        "insert into dusky.load (feed, into_table, state, started_at, started_by, host,"
            + " tool_version, declared) values ('f', 'intake.t', 'done', now(), 'x', 'x', 'x', 'x')");
    for (int i = 1; i <= 300; i++) {
      String feed = FEEDS.get(random.nextInt(3));
      String state =
          List.of("posted", "posted", "refused", "twin", "mended").get(random.nextInt(5));
      Instant at = START.plus(random.nextInt(40 * 24 * 60), ChronoUnit.MINUTES);
      long loaded = state.equals("refused") || state.equals("twin") ? 0 : random.nextInt(1000);
      long[] rows = {0, loaded, random.nextInt(9), random.nextInt(9), random.nextInt(9)};
      rows[0] = rows[1] + rows[2] + rows[3] + rows[4];
      String path = "day/" + i + "<script>alert('" + i + "')</script>.csv";
      Entry entry = new Entry(feed, path, state, at, rows, random.nextInt(1 << 20), i);
      entries.add(entry);
      String now = state.equals("mended") ? "posted" : state;
      files.add(
          "(%s, %s, 'v', '%s', 1, %s, %s, 1)"
              .formatted(quoted(feed), quoted(path), now, at(at), at(at)));
      tallies.add(
          "(1, %d, '%s', %d, %d, %d, %d, %d, 0, %d, 1, %d, %s)"
              .formatted(
                  i, state, rows[0], rows[1], rows[2], rows[3], rows[4], entry.bytes(), i, at(at)));
      String rejected = List.of(OPEN, OPEN, "mended", "waived").get(random.nextInt(4));
      String column = List.of("litres", "fat").get(random.nextInt(2));
      String code = List.of("bad-number", "too-long").get(random.nextInt(2));
      rejects.add(new Odd(feed, column, code, rejected, at));
      boolean settled = !rejected.equals(OPEN);
      odd.add(
          "(1, %d, 1, 1, 0, 1, cast('00' as %s), false, '%s', %s, %s, %s, 'why')"
              .formatted(
                  i,
                  bytes(),
                  rejected,
                  at(at),
                  settled ? at(at) : "null",
                  settled ? "'x'" : "null"));
      problems.add("(%d, 1, '%s', '%s', '<b>%d', 'is wrong')".formatted(i, code, column, i));
      problems.add("(%d, 2, 'other', 'other', '', '')".formatted(i));
    }
    execute(
        "insert into dusky.file (feed, path, version, state, size_bytes, modified_at, seen_at,"
            + " load_id) values "
            + String.join(", ", files));
    execute(
        "insert into dusky.tally (load_id, file_id, state, read_rows, loaded_rows, duplicate_rows,"
            + " rejected_rows, filtered_rows, withheld_rows, stored_bytes, content_bytes,"
            + " elapsed_ms, written_at) values "
            + String.join(", ", tallies));
    execute(
        "insert into dusky.reject (load_id, file_id, record_number, line_number, byte_offset,"
            + " piece, raw_record, raw_cut, state, recorded_at, settled_at, settled_by, reason)"
            + " values "
            + String.join(", ", odd));
    execute("insert into dusky.reject_problem values " + String.join(", ", problems));
  }

  /** The type of bytes in this database. */
  abstract String bytes();

  @Test
  void figuresAreThoseOfTheLedger() {
    fill(new Random(19));
    ReportEntries report = warehouse.report();
    List<String> feeds = FEEDS.subList(0, 2);
    Instant since = START.plus(5, ChronoUnit.DAYS);
    Instant until = START.plus(30, ChronoUnit.DAYS);
    List<Entry> chosen =
        entries.stream()
            .filter(e -> feeds.contains(e.feed()))
            .filter(e -> !e.at().isBefore(since) && e.at().isBefore(until))
            .toList();
    Map<String, List<Long>> expected = new TreeMap<>();
    for (Entry e : chosen) {
      long slot = e.at().getEpochSecond() / 900;
      boolean posted = e.state().equals("posted");
      boolean counts = posted || e.state().equals("mended");
      List<Long> one = new ArrayList<>();
      one.add(posted ? 1L : 0);
      one.add(e.state().equals("refused") ? 1L : 0);
      one.add(e.state().equals("twin") ? 1L : 0);
      for (long rows : e.rows()) {
        one.add(counts ? rows : 0);
      }
      one.add(counts ? e.bytes() : 0);
      one.add(counts ? e.millis() : 0);
      expected.merge(
          e.feed() + " " + slot,
          one,
          (a, b) -> {
            List<Long> sum = new ArrayList<>();
            for (int i = 0; i < a.size(); i++) {
              sum.add(a.get(i) + b.get(i));
            }
            return sum;
          });
    }
    assertEquals(
        expected,
        report.settled(feeds, since, until).stream()
            .collect(Collectors.toMap(s -> s.feed() + " " + s.slot(), ReportContract::numbers)));
    assertEquals(chosen.size(), report.fileCount(feeds, since, until));
    List<FileSum> files = report.files(feeds, since, until, 25);
    assertEquals(
        chosen.stream()
            .sorted(
                Comparator.comparing((Entry e) -> !e.state().equals("refused"))
                    .thenComparing(Comparator.comparing(Entry::at).reversed()))
            .limit(25)
            .map(e -> e.state() + " " + e.at())
            .toList(),
        files.stream().map(f -> f.state() + " " + f.at()).toList());
    assertTrue(files.get(0).path().contains("<script>"), files.get(0).path());
  }

  private static List<Long> numbers(Settled s) {
    assertEquals(s.read(), s.loaded() + s.duplicate() + s.rejected() + s.filtered());
    return List.of(
        s.files(),
        s.refused(),
        s.twins(),
        s.read(),
        s.loaded(),
        s.duplicate(),
        s.rejected(),
        s.filtered(),
        s.bytes(),
        s.millis());
  }

  @Test
  void rejectsAreSummedByTheirFirstProblem() {
    fill(new Random(20));
    Instant until = START.plus(50, ChronoUnit.DAYS);
    List<RejectSum> sums = warehouse.report().rejects(FEEDS, START, until);
    Map<String, List<Odd>> expected =
        rejects.stream().collect(Collectors.groupingBy(r -> r.feed() + r.column() + r.code()));
    assertEquals(expected.size(), sums.size());
    for (RejectSum sum : sums) {
      List<Odd> odd = expected.get(sum.feed() + sum.column() + sum.code());
      assertEquals(odd.stream().filter(o -> o.state().equals(OPEN)).count(), sum.open());
      assertEquals(odd.size(), sum.open() + sum.mended() + sum.waived());
      Optional<Instant> oldest =
          odd.stream()
              .filter(o -> o.state().equals(OPEN))
              .map(Odd::at)
              .min(Comparator.naturalOrder());
      assertEquals(oldest, sum.oldest());
      assertTrue(sum.example().startsWith("<b>"), sum.example());
    }
    List<Long> open = sums.stream().map(RejectSum::open).toList();
    assertEquals(open.stream().sorted(Comparator.reverseOrder()).toList(), open);
  }
}
