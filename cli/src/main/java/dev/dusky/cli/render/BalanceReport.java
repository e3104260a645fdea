package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.TallyFigures;
import dev.dusky.core.balance.DepotCounts;
import dev.dusky.core.balance.Difference;
import dev.dusky.core.balance.FeedBalance;
import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.balance.TotalCheck;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.stream.Collectors;

/** Shows whether ledger, tables and depots agree. */
public final class BalanceReport {

  private static final String INDENT = "            ";

  private final Screen screen;
  private final Style style;
  private final boolean depotMayDiffer;

  /**
   * A report on that screen.
   *
   * @param depotMayDiffer whether changes in depots are only noted
   */
  public BalanceReport(Screen screen, boolean depotMayDiffer) {
    this.screen = screen;
    this.style = screen.style();
    this.depotMayDiffer = depotMayDiffer;
  }

  /** Shows a feed. */
  public void feed(FeedBalance balance) {
    screen.line(
        style.strong(balance.feed().name()) + style.faint("  into " + balance.feed().into()));
    FeedProof proof = balance.proof();
    line(
        proof.tally().balanced(),
        "tallies",
        "settled files %s: %s"
            .formatted(Figures.count(proof.files()), TallyFigures.sum(proof.tally())));
    rows(balance);
    if (balance.strays() > 0) {
      line(
          false,
          "strays",
          Figures.count(balance.strays()) + " rows of the table belong to no posted file");
    }
    proof.totals().forEach(this::total);
    rejects(balance);
    if (!proof.contradictions().isEmpty()) {
      line(false, "ledger", "its entries contradict each other:");
      proof.contradictions().forEach(text -> screen.line(INDENT + text));
    }
    balance.depot().ifPresent(this::depot);
    screen.object(json(balance));
  }

  private void rows(FeedBalance balance) {
    FeedProof proof = balance.proof();
    String parts =
        proof.mended() == 0
            ? ""
            : " (%s loaded + %s mended)"
                .formatted(Figures.count(proof.tally().loaded()), Figures.count(proof.mended()));
    line(
        balance.rowsAgree(),
        "rows",
        "ledger %s%s, table %s%s"
            .formatted(
                Figures.count(balance.booked()),
                parts,
                Figures.count(proof.tableRows()),
                proof.provenance() ? "" : " (no provenance columns: only the total is known)"));
    proof.differences().forEach(this::difference);
  }

  private void difference(Difference difference) {
    screen.line(
        INDENT
            + "%s of load %d: ledger %s, table %s%s"
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

  private void total(TotalCheck total) {
    line(
        total.agrees(),
        "totals",
        "%s: ledger %s, table %s"
            .formatted(
                total.column(), Figures.number(total.inLedger()), Figures.number(total.inTable())));
  }

  private void rejects(FeedBalance balance) {
    FeedProof proof = balance.proof();
    line(
        balance.rejectsAgree(),
        "rejects",
        "tallies %s, recorded %s = open %s + mended %s + waived %s"
            .formatted(
                Figures.count(proof.tally().rejected()),
                Figures.count(proof.rejects().recorded()),
                Figures.count(proof.rejects().open()),
                Figures.count(proof.rejects().mended()),
                Figures.count(proof.rejects().waived())));
  }

  private void depot(DepotCounts depot) {
    String states =
        depot.states().entrySet().stream()
            .map(e -> Figures.count(e.getValue()) + " " + e.getKey().label())
            .collect(Collectors.joining(", "));
    String verdict =
        depot.changed() && !depotMayDiffer
            ? style.bad("DISAGREE")
            : depot.attention() ? style.notable("note    ") : style.good("agrees  ");
    screen.line(
        "  %-8s %s  %s%s%s"
            .formatted(
                "depot",
                verdict,
                states.isEmpty() ? "no files" : states,
                depot.whole() ? "" : " since the first day that the feed takes",
                depot.gone() > 0
                    ? ", " + Figures.count(depot.gone()) + " posted but no longer there"
                    : ""));
  }

  private void line(boolean agrees, String what, String text) {
    screen.line(
        "  %-8s %s  %s"
            .formatted(what, agrees ? style.good("agrees  ") : style.bad("DISAGREE"), text));
  }

  private static Map<String, Object> json(FeedBalance balance) {
    FeedProof proof = balance.proof();
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("feed", balance.feed().name());
    fields.putAll(TallyFigures.fields(proof.tally()));
    fields.put("contradictions", proof.contradictions());
    fields.put("table_rows", proof.tableRows());
    fields.put("stray_rows", balance.strays());
    fields.put("mended_rows", proof.mended());
    fields.put("rejects_recorded", proof.rejects().recorded());
    fields.put("rejects_open", proof.rejects().open());
    fields.put("rejects_mended", proof.rejects().mended());
    fields.put("rejects_waived", proof.rejects().waived());
    proof.totals().forEach(t -> fields.put("total_" + t.column(), t.inLedger().toPlainString()));
    fields.put("differences", proof.differences().stream().map(Difference::path).toList());
    fields.put("agrees", balance.tablesAgree());
    balance
        .depot()
        .ifPresent(
            depot -> {
              depot.states().forEach((state, n) -> fields.put("depot_" + state.label(), n));
              fields.put("depot_missing", Math.max(0, depot.gone()));
            });
    return fields;
  }
}
