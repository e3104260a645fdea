package dev.dusky.cli.command;

import dev.dusky.cli.config.Configuration;
import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.LoadReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.render.TallyText;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.KnownFile;
import dev.dusky.core.load.KnownFiles;
import dev.dusky.core.merge.Merge;
import dev.dusky.warehouses.JdbcWarehouse;
import dev.dusky.warehouses.proofs.FeedProofs.Difference;
import dev.dusky.warehouses.proofs.FeedProofs.FeedCheck;
import dev.dusky.warehouses.proofs.FeedProofs.TotalCheck;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Proves the books. */
@Command(
    name = "balance",
    description = "Proves the books: the ledger against tables, targets and depots.",
    footer = {
      "",
      "Examples:",
      "  dusky balance                        every feed and every merge",
      "  dusky balance collections --no-depot one feed, without listing its depot",
      "",
      "Exits with 6 if any count disagrees, entries of the ledger contradict each other, or a",
      "posted file has changed or gone in its depot."
    })
final class BalanceCommand extends DuskyCommand {

  @Parameters(paramLabel = "NAME", arity = "0..*", description = "Feeds and merges; all if none.")
  List<String> names = new ArrayList<>();

  @Option(names = "--no-depot", description = "Do not list the depots.")
  boolean noDepot;

  @Option(
      names = "--depot-may-differ",
      description = "Accept posted files that changed in the depot or are no longer there.")
  boolean depotMayDiffer;

  private boolean balanced = true;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      JdbcWarehouse warehouse = workspace.warehouse();
      Configuration configuration = workspace.configuration();
      List<String> merges = names.stream().filter(configuration.merges()::containsKey).toList();
      List<String> feeds = names.stream().filter(name -> !merges.contains(name)).toList();
      boolean all = names.isEmpty();
      for (Feed feed :
          all || !feeds.isEmpty() ? configuration.feedsOrAll(feeds) : List.<Feed>of()) {
        Map<String, Object> fields = new LinkedHashMap<>();
        fields.put("feed", feed.name());
        screen.line(
            screen.style().strong(feed.name()) + screen.style().faint("  into " + feed.into()));
        tables(screen, warehouse, feed, fields);
        if (!noDepot) {
          depot(screen, workspace, feed, fields);
        }
        screen.object(fields);
      }
      if (!merges.isEmpty() || all && !configuration.merges().isEmpty()) {
        for (Merge merge : configuration.mergesOrAll(merges)) {
          balanced &= new MergeBalance(screen).prove(warehouse, merge);
        }
      }
      screen.line(
          balanced
              ? screen.style().good("the books balance")
              : screen.style().bad("THE BOOKS DO NOT BALANCE"));
    }
    return balanced ? 0 : Failure.Kind.BOOKS.exitCode();
  }

  private void tables(
      Screen screen, JdbcWarehouse warehouse, Feed feed, Map<String, Object> fields) {
    FeedCheck check =
        warehouse.checks().feed(feed.name(), feed.into(), feed.policies().expectations().totals());
    fields.putAll(LoadReport.tally(check.tally()));
    line(
        screen,
        check.tally().balanced(),
        "tallies",
        "settled files %s: %s"
            .formatted(Figures.count(check.files()), TallyText.sum(check.tally())));
    long booked = check.tally().loaded() + check.mended();
    boolean rowsAgree =
        check.provenance()
            ? check.differences().isEmpty() && check.tableRows() == booked
            : check.tableRows() >= booked;
    line(
        screen,
        rowsAgree,
        "rows",
        "ledger %s%s, table %s%s"
            .formatted(
                Figures.count(booked),
                check.mended() == 0
                    ? ""
                    : " (%s loaded + %s mended)"
                        .formatted(
                            Figures.count(check.tally().loaded()), Figures.count(check.mended())),
                Figures.count(check.tableRows()),
                check.provenance() ? "" : " (no provenance columns: only the total is known)"));
    for (Difference difference : check.differences()) {
      screen.line(
          "            %s of load %d: ledger %s, table %s%s"
              .formatted(
                  difference.path(),
                  difference.loadId(),
                  Figures.count(difference.inLedger()),
                  Figures.count(difference.inTable()),
                  difference.twice() == 0
                      ? ""
                      : ", of which %s have the number of another row"
                          .formatted(Figures.count(difference.twice()))));
    }
    long strays = check.provenance() ? warehouse.checks().strays(feed.into()) : 0;
    if (strays > 0) {
      line(
          screen,
          false,
          "strays",
          Figures.count(strays) + " rows of the table belong to no posted file");
    }
    boolean totalsAgree = totals(screen, check);
    long expected = check.tally().rejected();
    long recorded = check.rejects().recorded();
    boolean rejectsAgree =
        recorded == expected || recorded < expected && recorded >= feed.rejectCap();
    line(
        screen,
        rejectsAgree,
        "rejects",
        "tallies %s, recorded %s = open %s + mended %s + waived %s"
            .formatted(
                Figures.count(expected),
                Figures.count(recorded),
                Figures.count(check.rejects().open()),
                Figures.count(check.rejects().mended()),
                Figures.count(check.rejects().waived())));
    List<String> contradictions = check.contradictions();
    if (!contradictions.isEmpty()) {
      line(screen, false, "ledger", "its entries contradict each other:");
      contradictions.forEach(text -> screen.line("            " + text));
    }
    fields.put("contradictions", contradictions);
    fields.put("table_rows", check.tableRows());
    fields.put("stray_rows", strays);
    fields.put("mended_rows", check.mended());
    fields.put("rejects_recorded", recorded);
    fields.put("rejects_open", check.rejects().open());
    fields.put("rejects_mended", check.rejects().mended());
    fields.put("rejects_waived", check.rejects().waived());
    check.totals().forEach(t -> fields.put("total_" + t.column(), t.inLedger().toPlainString()));
    fields.put("differences", check.differences().stream().map(Difference::path).toList());
    fields.put(
        "agrees",
        rowsAgree
            && rejectsAgree
            && totalsAgree
            && strays == 0
            && contradictions.isEmpty()
            && check.tally().balanced());
  }

  private boolean totals(Screen screen, FeedCheck check) {
    boolean agree = true;
    for (TotalCheck total : check.totals()) {
      boolean same = total.inLedger().compareTo(total.inTable()) == 0;
      agree &= same;
      line(
          screen,
          same,
          "totals",
          "%s: ledger %s, table %s"
              .formatted(
                  total.column(),
                  Figures.number(total.inLedger()),
                  Figures.number(total.inTable())));
    }
    return agree;
  }

  private void depot(Screen screen, Workspace workspace, Feed feed, Map<String, Object> fields) {
    KnownFiles files =
        new KnownFiles(workspace.warehouse().ledger(), workspace.depot(feed), feed, Instant.now());
    Map<FileState, Integer> counts = new EnumMap<>(FileState.class);
    long present = 0;
    while (files.hasNext()) {
      KnownFile known = files.next();
      counts.merge(known.state(), 1, Integer::sum);
      present += known.state() == FileState.POSTED || known.state() == FileState.TWIN ? 1 : 0;
      present += known.state() == FileState.REVISED ? 1 : 0;
    }
    boolean all = feed.policies().arrivals().since().isEmpty();
    long gone = !all ? 0 : workspace.warehouse().checks().settledPaths(feed.name()) - present;
    String states =
        counts.entrySet().stream()
            .map(e -> Figures.count(e.getValue()) + " " + e.getKey().label())
            .collect(Collectors.joining(", "));
    boolean changed = counts.containsKey(FileState.REVISED) || gone > 0;
    boolean attention =
        changed || counts.containsKey(FileState.REFUSED) || counts.containsKey(FileState.WAITING);
    balanced &= !changed || depotMayDiffer;
    Style style = screen.style();
    String verdict =
        changed && !depotMayDiffer
            ? style.bad("DISAGREE")
            : attention ? style.notable("note    ") : style.good("agrees  ");
    screen.line(
        "  %-8s %s  %s%s%s"
            .formatted(
                "depot",
                verdict,
                states.isEmpty() ? "no files" : states,
                all ? "" : " since the first day that the feed takes",
                gone > 0 ? ", " + Figures.count(gone) + " posted but no longer there" : ""));
    counts.forEach((state, count) -> fields.put("depot_" + state.label(), count));
    fields.put("depot_missing", Math.max(0, gone));
  }

  private void line(Screen screen, boolean agrees, String what, String text) {
    balanced &= agrees;
    Style style = screen.style();
    screen.line(
        "  %-8s %s  %s"
            .formatted(what, agrees ? style.good("agrees  ") : style.bad("DISAGREE"), text));
  }
}
