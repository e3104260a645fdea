package dev.dusky.cli.page;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.TallyFigures;
import dev.dusky.app.report.Need;
import dev.dusky.app.report.Report;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.core.balance.FeedBalance;
import dev.dusky.core.balance.MergeBalance;
import dev.dusky.core.balance.MergeProof;
import dev.dusky.core.balance.MergeSum;
import dev.dusky.core.balance.TotalCheck;
import dev.dusky.core.ledger.DriftLine;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.MergeLine;
import dev.dusky.core.report.FileSum;
import dev.dusky.core.report.RejectSum;
import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** The parts of the page as the template takes them: each row a map of texts. */
final class PageParts {

  private static final DateTimeFormatter MINUTE =
      DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm", Locale.ROOT);
  private static final int TREND_DAYS = 30;
  private static final List<String> SUM_FIGURES =
      List.of(
          "files", "duplicate", "rejected", "superseded", "replaced", "waiting", "ledger", "there");

  private final Report report;
  private final PageFigures figures;

  PageParts(Report report, PageFigures figures) {
    this.report = report;
    this.figures = figures;
  }

  String minute(Instant moment) {
    return MINUTE.format(moment.atZone(report.zone()));
  }

  private int day(Instant moment) {
    return figures.day(moment.atZone(report.zone()));
  }

  /** What needs a person, in one line. */
  String headline() {
    long faults = report.needs().stream().filter(Need::fault).count();
    long notes = report.needs().size() - faults;
    if (report.needs().isEmpty()) {
      return "Nothing needs a person now";
    }
    String wrong = faults == 0 ? "" : Figures.plural(faults, "fault");
    String waits = notes == 0 ? "" : Figures.plural(notes, "matter") + " to look at";
    return wrong + (faults > 0 && notes > 0 ? " and " : "") + waits;
  }

  List<Map<String, Object>> needs() {
    List<Map<String, Object>> rows = new ArrayList<>();
    for (Need need : report.needs()) {
      Map<String, Object> row = new LinkedHashMap<>();
      row.put("kind", need.fault() ? "fault" : "note");
      row.put("about", need.about());
      row.put("words", need.words());
      row.put("command", need.command());
      rows.add(row);
    }
    return rows;
  }

  List<Map<String, Object>> tiles() {
    List<Map<String, Object>> rows = new ArrayList<>();
    for (FeedStatus feed : report.feeds()) {
      Map<String, Object> row = new LinkedHashMap<>();
      boolean failing =
          feed.unlisted().isPresent()
              || feed.watched().map(watched -> watched.failures() > 0).orElse(false);
      boolean bad = failing || feed.held() > 0 || feed.missing() > 0 || disagrees(feed.feed());
      boolean wait =
          feed.pause().isPresent() || feed.waiting() > 0 || feed.posted().openRejects() > 0;
      row.put("number", figures.feed(feed.feed()));
      row.put("feed", feed.feed());
      row.put("kind", bad ? "bad" : wait ? "wait" : "good");
      row.put("state", state(feed, failing));
      row.put("lastPost", feed.posted().lastPost().map(this::minute).orElse("never"));
      row.put("waiting", Figures.count(feed.waiting()));
      row.put("refused", Figures.count(feed.states().getOrDefault(FileState.REFUSED, 0L)));
      row.put("rejects", Figures.count(feed.posted().openRejects()));
      row.put("missing", feed.expected().isEmpty() ? "-" : Figures.count(feed.missing()));
      long[] loaded = figures.loaded(feed.feed());
      long most = 1;
      for (int i = Math.max(0, loaded.length - TREND_DAYS); i < loaded.length; i++) {
        most = Math.max(most, loaded[i]);
      }
      row.put("peak", Figures.count(most));
      row.put("trend", trend(loaded, most));
      rows.add(row);
    }
    return rows;
  }

  private boolean disagrees(String feed) {
    return report.proof().stream()
        .flatMap(proof -> proof.feeds().stream())
        .anyMatch(balance -> balance.feed().name().equals(feed) && !balance.tablesAgree());
  }

  private String state(FeedStatus feed, boolean failing) {
    if (feed.pause().isPresent()) {
      return "paused";
    }
    if (failing) {
      return "failing";
    }
    if (disagrees(feed.feed())) {
      return "books do not balance";
    }
    if (feed.held() > 0) {
      return "files need a decision";
    }
    if (feed.missing() > 0) {
      return "files are missing";
    }
    return feed.waiting() > 0 ? "files wait" : "current";
  }

  /** The points of a line over the last days, in a field of 120 by 28. */
  private static String trend(long[] loaded, long most) {
    int days = Math.min(TREND_DAYS, loaded.length);
    StringBuilder points = new StringBuilder();
    for (int i = 0; i < days; i++) {
      long value = loaded[loaded.length - days + i];
      double x = days == 1 ? 60 : 120.0 * i / (days - 1);
      points.append(String.format(Locale.ROOT, "%.1f,%.1f ", x, 27 - 26.0 * value / most));
    }
    return points.toString().strip();
  }

  List<Map<String, Object>> rejects() {
    List<Map<String, Object>> rows = new ArrayList<>();
    for (RejectSum reject : report.rejects()) {
      Map<String, Object> row = new LinkedHashMap<>();
      row.put("number", figures.feed(reject.feed()));
      row.put("feed", reject.feed());
      row.put("column", reject.column());
      row.put("code", reject.code());
      number(row, "open", reject.open());
      number(row, "mended", reject.mended());
      number(row, "waived", reject.waived());
      row.put("oldest", reject.oldest().map(this::minute).orElse(""));
      row.put("example", reject.example());
      row.put("message", reject.message());
      String advice =
          report.advice().get(Report.reason(reject.feed(), reject.column(), reject.code()));
      String show = reject.open() > 0 ? "dusky rejects show " + reject.feed() : "";
      row.put("advice", advice == null ? show : advice);
      rows.add(row);
    }
    return rows;
  }

  private static void number(Map<String, Object> row, String name, long value) {
    row.put(name, value);
    row.put(name + "Text", Figures.count(value));
  }

  String filesNote() {
    return report.fileCount() > report.files().size()
        ? "The newest %s of %s entries, those that need a decision first; dusky files and dusky journal show all."
            .formatted(Figures.count(report.files().size()), Figures.count(report.fileCount()))
        : "Each outcome of a file in a load, the newest first; those that need a decision before all others.";
  }

  List<Map<String, Object>> files() {
    List<Map<String, Object>> rows = new ArrayList<>();
    for (FileSum file : report.files()) {
      Map<String, Object> row = new LinkedHashMap<>();
      row.put("number", figures.feed(file.feed()));
      row.put("day", day(file.at()));
      row.put("feed", file.feed());
      row.put("path", file.path());
      row.put("message", file.message());
      row.put("state", file.state());
      row.put(
          "stateText",
          file.now().equals(file.state()) ? file.state() : file.state() + ", now " + file.now());
      row.put("at", minute(file.at()));
      row.put("read", Figures.count(file.tally().read()));
      row.put("loaded", Figures.count(file.tally().loaded()));
      row.put("duplicate", Figures.count(file.tally().duplicate()));
      row.put("rejected", Figures.count(file.tally().rejected()));
      row.put("filtered", Figures.count(file.tally().filtered()));
      row.put("bytes", file.bytes());
      row.put("bytesText", Figures.bytes(file.bytes()));
      row.put("seconds", seconds(file.elapsed()));
      row.put("load", file.load());
      rows.add(row);
    }
    return rows;
  }

  private static String seconds(Duration duration) {
    return String.format(Locale.ROOT, "%.2f", duration.toMillis() / 1000.0);
  }

  List<Map<String, Object>> merges() {
    List<Map<String, Object>> rows = new ArrayList<>();
    for (MergeLine merge : report.merges()) {
      Map<String, Object> row = new LinkedHashMap<>();
      row.put("day", day(merge.started()));
      row.put("merge", merge.merge());
      row.put("into", merge.into());
      row.put("message", merge.message());
      row.put("started", minute(merge.started()));
      row.put("state", merge.state());
      row.put("landed", Figures.count(merge.tally().landed()));
      row.put("inserted", Figures.count(merge.tally().inserted()));
      row.put("updated", Figures.count(merge.tally().updated()));
      row.put("unchanged", Figures.count(merge.tally().unchanged()));
      row.put("superseded", Figures.count(merge.tally().superseded()));
      row.put("deleted", Figures.count(merge.tally().deleted()));
      row.put("rejected", Figures.count(merge.tally().rejected()));
      row.put("files", Figures.count(merge.files()));
      row.put(
          "seconds",
          merge.ended().map(end -> seconds(Duration.between(merge.started(), end))).orElse(""));
      rows.add(row);
    }
    return rows;
  }

  List<Map<String, Object>> drifts() {
    List<Map<String, Object>> rows = new ArrayList<>();
    for (DriftLine drift : report.drifts()) {
      Map<String, Object> row = new LinkedHashMap<>();
      row.put("number", figures.feed(drift.feed()));
      row.put("day", day(drift.at()));
      row.put("at", minute(drift.at()));
      row.put("feed", drift.feed());
      row.put("words", words(drift));
      row.put("path", drift.path());
      rows.add(row);
    }
    return rows;
  }

  private static String words(DriftLine drift) {
    String what =
        switch (drift.change()) {
          case "new" -> "new field %s (%s)".formatted(drift.field(), drift.seen());
          case "missing" -> "field %s is missing".formatted(drift.field());
          default -> "field %s is %s".formatted(drift.field(), drift.seen());
        };
    return "%s: %s, in %s"
        .formatted(what, drift.action(), Figures.plural(drift.records(), "record"));
  }

  List<Map<String, Object>> proofs(Report.Proof proof) {
    List<Map<String, Object>> rows = new ArrayList<>();
    for (FeedBalance feed : proof.feeds()) {
      rows.add(
          verdict(
              feed.tablesAgree(),
              feed.feed().name(),
              feed.feed().into().toString(),
              feed.booked(),
              feed.proof().tableRows(),
              TallyFigures.sum(feed.proof().tally())));
    }
    for (MergeBalance merge : proof.merges()) {
      merge
          .proof()
          .ifPresent(
              p ->
                  rows.add(
                      verdict(
                          merge.agrees(),
                          merge.merge().name(),
                          merge.merge().into().toString(),
                          p.inLedger(),
                          p.inTarget(),
                          chains(p))));
    }
    return rows;
  }

  private static String chains(MergeProof proof) {
    List<String> parts = new ArrayList<>();
    parts.add(
        "landed %s, waiting %s"
            .formatted(Figures.count(proof.tally().landed()), Figures.count(proof.waitingRows())));
    parts.addAll(proof.twice());
    parts.addAll(proof.chains());
    parts.addAll(proof.contradictions());
    return String.join("; ", parts);
  }

  private static Map<String, Object> verdict(
      boolean agrees, String name, String table, long ledger, long there, String account) {
    Map<String, Object> row = new LinkedHashMap<>();
    row.put("name", name);
    row.put("table", table);
    agreement(row, agrees);
    row.put("ledger", Figures.count(ledger));
    row.put("there", Figures.count(there));
    row.put("account", account);
    return row;
  }

  private static void agreement(Map<String, Object> row, boolean agrees) {
    row.put("kind", agrees ? "good" : "bad");
    row.put("verdict", agrees ? "agrees" : "does not agree");
  }

  List<Map<String, Object>> sums(Report.Proof proof) {
    List<Map<String, Object>> rows = new ArrayList<>();
    for (FeedBalance feed : proof.feeds()) {
      for (TotalCheck total : feed.proof().totals()) {
        Map<String, Object> row = sum(feed.feed().name(), total.column(), total.agrees());
        row.put("ledger", Figures.number(total.inLedger()));
        row.put("there", Figures.number(total.inTable()));
        rows.add(row);
      }
    }
    for (MergeBalance merge : proof.merges()) {
      for (MergeSum sum : merge.proof().map(MergeProof::sums).orElse(List.of())) {
        Map<String, Object> row = sum(merge.merge().name(), sum.column(), sum.agrees());
        put(row, "files", sum.files());
        put(row, "duplicate", sum.duplicate());
        put(row, "rejected", sum.rejected());
        put(row, "superseded", sum.superseded());
        put(row, "replaced", sum.replaced());
        put(row, "waiting", sum.waiting());
        put(row, "ledger", sum.inLedger());
        put(row, "there", sum.inTarget());
        rows.add(row);
      }
    }
    return rows;
  }

  private static Map<String, Object> sum(String name, String column, boolean agrees) {
    Map<String, Object> row = new LinkedHashMap<>();
    row.put("name", name);
    row.put("column", column);
    agreement(row, agrees);
    // A key that a row lacks would be looked up around it.
    for (String figure : SUM_FIGURES) {
      row.put(figure, "");
    }
    return row;
  }

  private static void put(Map<String, Object> row, String name, BigDecimal value) {
    row.put(name, Figures.number(value));
  }
}
