package dev.dusky.cli.page;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.app.config.Prices;
import dev.dusky.app.report.Need;
import dev.dusky.app.report.Report;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.core.balance.Chains;
import dev.dusky.core.expect.Expected;
import dev.dusky.core.ledger.DriftLine;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.PostedSummary;
import dev.dusky.core.report.FileSum;
import dev.dusky.core.report.RejectSum;
import dev.dusky.core.report.Settled;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.usage.Request;
import dev.dusky.core.usage.Usage;
import dev.dusky.core.usage.UsageLine;
import java.math.BigDecimal;
import java.security.MessageDigest;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** The page of a report. */
class ReportPageTest {

  private static final Instant MADE = Instant.parse("2026-03-30T06:00:00Z");
  private static final ZoneId VIENNA = ZoneId.of("Europe/Vienna");

  /** What senders could put into names and values. */
  private static final List<String> HOSTILE =
      List.of(
          "<script>alert(1)</script>",
          "\"><img src=x onerror=alert(2)>",
          "</script><script>alert(3)</script>",
          "<!--",
          "{{#needs}}{{{style}}}{{/needs}}",
          "' onmouseover='alert(4)",
          "\u0000\u0007\u001b[31m\u2028\u202e",
          "&lt;b&gt;");

  private static final Usage USED =
      new Usage(1000, 500, 300, 2_000_000, 0, Map.of(Request.GET, 7L));

  private static FeedStatus feed(String name) {
    return new FeedStatus(
        name,
        Optional.empty(),
        Map.of(FileState.POSTED, 3L),
        0,
        Optional.empty(),
        new PostedSummary(Optional.of(MADE), 10, 1, 2),
        Optional.empty(),
        Optional.empty(),
        List.of());
  }

  private static Expected period(String words, Expected.Verdict verdict) {
    Instant begins = Instant.parse("2026-03-27T23:00:00Z");
    return new Expected(words, begins, begins, 2, 2, 1, Optional.of(MADE), verdict);
  }

  private static Report report(
      List<String> feeds, List<Settled> settled, List<FileSum> files, List<RejectSum> rejects) {
    String first = feeds.get(0);
    return new Report(
        MADE,
        Instant.parse("2026-02-27T23:00:00Z"),
        VIENNA,
        "jdbc:h2:" + first,
        feeds.stream().map(ReportPageTest::feed).toList(),
        Map.of(first, List.of(period(first, Expected.Verdict.LATE))),
        settled,
        rejects,
        Map.of(Report.reason(first, first, first), first),
        files,
        files.size(),
        List.of(),
        List.of(
            new DriftLine(
                first,
                1,
                first,
                "posted",
                first,
                "new",
                first,
                "captured",
                3,
                first,
                Optional.empty(),
                first,
                MADE)),
        List.of(new UsageLine(first, false, LocalDate.of(2026, 3, 29), 1, 1, 10, USED)),
        Optional.of(
            new Prices(
                first,
                Map.of(Request.GET, BigDecimal.ONE),
                BigDecimal.ONE,
                BigDecimal.ZERO,
                BigDecimal.TEN)),
        Optional.of(
            new Report.Proof(
                MADE,
                List.of(),
                List.of(),
                Map.of(first, new Chains(List.of(new Chains.Length(1, 20, 20)))))),
        List.of(new Need(first, true, first, "dusky files " + first)));
  }

  private static Report hostile(String text) {
    return report(
        List.of(text),
        List.of(),
        List.of(
            new FileSum(
                text,
                text,
                1,
                "refused",
                "refused",
                MADE,
                Tally.NONE,
                5,
                Duration.ZERO,
                text,
                text)),
        List.of(new RejectSum(text, text, text, 1, 0, 0, Optional.of(MADE), text, text)));
  }

  private static JsonNode figures(String page) throws Exception {
    Matcher data =
        Pattern.compile(
                "<script type=\"application/json\" id=\"figures\">(.*?)</script>", Pattern.DOTALL)
            .matcher(page);
    assertTrue(data.find(), "the page has figures");
    return new ObjectMapper().readTree(data.group(1));
  }

  /** The page without what its figures are. */
  private static String around(String page) {
    return page.replaceAll("(?s)(id=\"figures\">).*?(</script>)", "$1$2");
  }

  private static int count(String text, String part) {
    return text.split(Pattern.quote(part), -1).length - 1;
  }

  @Test
  void hostileTextsStayText() throws Exception {
    String plain = new ReportPage().write(hostile("farms"));
    for (String text : HOSTILE) {
      String page = new ReportPage().write(hostile(text));
      for (String markup :
          List.of("<script", "</script", "<img", "<!--", "<b>", " onmouseover='")) {
        assertEquals(count(plain, markup), count(around(page), markup), markup + " by " + text);
      }
      assertEquals(text, figures(page).path("feeds").get(0).asText());
    }
  }

  /** Every script and the style are admitted by their digests, and nothing else is. */
  @Test
  void thePolicyAdmitsWhatThePageHas() throws Exception {
    String page = new ReportPage().write(hostile("farms"));
    Matcher policy = Pattern.compile("Security-Policy\" content=\"([^\"]*)\"").matcher(page);
    assertTrue(policy.find());
    String admitted = policy.group(1).replace("&#39;", "'").replace("&#x3D;", "=");
    assertTrue(admitted.startsWith("default-src 'none'; "), admitted);
    int parts = 0;
    Matcher part = Pattern.compile("<(script|style)>(.*?)</\\1>", Pattern.DOTALL).matcher(page);
    while (part.find()) {
      byte[] digest = MessageDigest.getInstance("SHA-256").digest(part.group(2).getBytes("UTF-8"));
      String source = "'sha256-" + Base64.getEncoder().encodeToString(digest) + "'";
      assertTrue(admitted.contains(source), "the policy admits part " + parts);
      parts++;
    }
    assertEquals(3, parts, "a style, the charts and the page's script");
    for (String outside :
        List.of("<link", "src=", "@import", "url(", "<style ", " style=", " onclick=")) {
      String around = page.replaceAll("(?s)<script>.*?</script>", "");
      assertFalse(around.contains(outside), "the page fetches or runs " + outside);
    }
    assertFalse(page.contains("sourceMappingURL"), "the page names no map of a script");
  }

  /** The columns of the page add up to what the ledger gave, by day and hour of the zone. */
  @Test
  void figuresAddUpByDayAndHour() throws Exception {
    Random random = new Random(3);
    List<Settled> settled = new ArrayList<>();
    long[] loadedByDay = new long[31];
    long lastDays = 0;
    for (int i = 0; i < 2000; i++) {
      Instant at = MADE.minusSeconds(random.nextInt(30 * 86_400));
      long loaded = random.nextInt(1000);
      settled.add(
          new Settled(
              "f" + i % 3, at.getEpochSecond() / 900, 1, 0, 0, loaded, loaded, 0, 0, 0, 0, 7, 1));
      int day = at.atZone(VIENNA).getDayOfYear() - 59;
      loadedByDay[day] += loaded;
      lastDays += day > 30 - PageFigures.DAYS_WITH_HOURS ? loaded : 0;
    }
    Report report = report(List.of("f0", "f1", "f2"), settled, List.of(), List.of());
    JsonNode figures = figures(new ReportPage().write(report));
    assertEquals(31, figures.path("days").asInt());
    JsonNode daily = figures.path("daily");
    long[] shown = new long[31];
    for (int i = 0; i < daily.path("slot").size(); i++) {
      shown[daily.path("slot").get(i).asInt()] += daily.path("loaded").get(i).asLong();
    }
    assertEquals(java.util.Arrays.toString(loadedByDay), java.util.Arrays.toString(shown));
    long hourly = 0;
    for (JsonNode loaded : figures.path("hourly").path("loaded")) {
      hourly += loaded.asLong();
    }
    assertEquals(lastDays, hourly);
  }

  /** A year of 50 feeds with a thousand files stays below 2 MB. */
  @Test
  void aYearOfFiftyFeedsFitsIntoTwoMegabytes() {
    Random random = new Random(4);
    List<String> feeds = new ArrayList<>();
    List<Settled> settled = new ArrayList<>();
    List<FileSum> files = new ArrayList<>();
    Instant since = MADE.minus(Duration.ofDays(365));
    for (int feed = 0; feed < 50; feed++) {
      feeds.add("collections-of-region-" + feed);
      for (int file = 0; file < 2000; file++) {
        long slot = since.plusSeconds(random.nextInt(365 * 86_400)).getEpochSecond() / 900;
        settled.add(
            new Settled(
                feeds.get(feed), slot, 1, 0, 0, 50_000, 49_000, 800, 150, 50, 0, 5_000_000, 1900));
      }
    }
    for (int i = 0; i < 1000; i++) {
      files.add(
          new FileSum(
              feeds.get(i % 50),
              "collections/2026-03-0" + i % 9 + "/region-" + i + ".csv.gz",
              i,
              "posted",
              "posted",
              MADE,
              Tally.posted(50_000, 49_000, 800, 150, 50),
              5_000_000,
              Duration.ofMillis(1900),
              "intake.collection",
              ""));
    }
    Report year =
        new Report(
            MADE,
            since,
            VIENNA,
            "here",
            feeds.stream().map(ReportPageTest::feed).toList(),
            Map.of(),
            settled,
            List.of(),
            Map.of(),
            files,
            100_000,
            List.of(),
            List.of(),
            List.of(),
            Optional.empty(),
            Optional.empty(),
            List.of());
    int size =
        new ReportPage().write(year).getBytes(java.nio.charset.StandardCharsets.UTF_8).length;
    assertTrue(size < 2_000_000, "the page has " + size + " bytes");
  }

  @Test
  void daysThatLackFilesOrHaveThemLateAreInTheFigures() throws Exception {
    Report report = report(List.of("dockets"), List.of(), List.of(), List.of());
    JsonNode expected = figures(new ReportPage().write(report)).get("expected");
    assertEquals("[[28,\"late\",\"dockets\",2,2]]", expected.get("0").get("odd").toString());
    assertEquals(28, expected.get("0").get("from").asInt());
  }

  @Test
  void aHistoryShowsItsKeysByTheNumberOfTheirVersions() {
    List<Chains.Length> lengths = new ArrayList<>();
    for (int versions = 1; versions <= 12; versions++) {
      lengths.add(new Chains.Length(versions, 1000 - versions, 500));
    }
    Chains chains = new Chains(lengths);
    Report plain = report(List.of("farm"), List.of(), List.of(), List.of());
    Map<String, Object> row =
        PageHistories.rows(new Report.Proof(MADE, List.of(), List.of(), Map.of("farm", chains)))
            .get(0);
    assertEquals("11 922", row.get("keys"));
    assertEquals("12", row.get("longest"));
    List<?> shown = (List<?>) row.get("lengths");
    assertEquals(8, shown.size());
    assertTrue(shown.get(0).toString().contains("of=1, count=999, width=100"), shown.toString());
    assertTrue(shown.get(7).toString().contains("of=8 or more, count=4 950"), shown.toString());
    String page = new ReportPage().write(plain);
    assertTrue(page.contains("<h3>Chains of versions</h3>"));
  }
}
