package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.TallyFigures;
import dev.dusky.core.balance.MergeBalance;
import dev.dusky.core.balance.MergeProof;
import dev.dusky.core.balance.MergeSum;
import dev.dusky.core.merge.Merge;
import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Shows whether the ledger and the tables of a merge agree. */
public final class MergeBalanceReport {

  private final Screen screen;
  private final Map<String, Object> fields = new LinkedHashMap<>();
  private int scale;

  /** A report on that screen, of one merge. */
  public MergeBalanceReport(Screen screen) {
    this.screen = screen;
  }

  /** Shows a merge. */
  public void show(MergeBalance balance) {
    Merge merge = balance.merge();
    Style style = screen.style();
    screen.line(
        style.strong(merge.name())
            + style.faint(
                "  merge of %s into %s (%s)"
                    .formatted(merge.source(), merge.into(), merge.existing())));
    fields.put("merge", merge.name());
    if (balance.proof().isEmpty()) {
      note("target", merge.into() + " does not exist yet");
      screen.object(fields);
      return;
    }
    MergeProof proof = balance.proof().get();
    fields.putAll(TallyFigures.fields(proof.tally()));
    line(proof.tally().balanced(), "tallies", TallyFigures.sum(proof.tally()), List.of());
    if (proof.waitingRows() > 0) {
      note(
          "waiting",
          "%s of %s landed and not merged"
              .formatted(
                  Figures.plural(proof.waitingRows(), "row"),
                  Figures.plural(proof.waitingFiles(), "file")));
    }
    if (proof.reversedRows() > 0) {
      note(
          "reversed",
          Figures.plural(proof.reversedRows(), "merged row")
              + " left the landing table since; the target still holds their result");
    }
    line(
        proof.inLedger() == proof.inTarget(),
        "target",
        "ledger %s, table %s"
            .formatted(Figures.count(proof.inLedger()), Figures.count(proof.inTarget())),
        List.of());
    line(
        proof.twice().isEmpty(),
        "keys",
        proof.twice().isEmpty() ? "each key once" : "some keys occur more than once:",
        proof.twice());
    if (merge.history().isPresent()) {
      line(
          proof.chains().isEmpty(),
          "history",
          proof.chains().isEmpty() ? "no gaps, no overlaps" : "not one version at each moment:",
          proof.chains());
    }
    line(
        proof.tally().rejected() == proof.rejectsRecorded(),
        "rejects",
        "tallies %s, recorded %s, of which open %s"
            .formatted(
                Figures.count(proof.tally().rejected()),
                Figures.count(proof.rejectsRecorded()),
                Figures.count(proof.rejectsOpen())),
        List.of());
    if (!proof.contradictions().isEmpty()) {
      line(false, "ledger", "entries and rows contradict each other:", proof.contradictions());
    }
    fields.put("contradictions", proof.contradictions());
    proof.sums().forEach(this::sum);
    fields.put("waiting_rows", proof.waitingRows());
    fields.put("target_rows", proof.inTarget());
    fields.put("ledger_rows", proof.inLedger());
    fields.put("keys_twice", proof.twice());
    fields.put("broken_chains", proof.chains());
    fields.put("rejects_open", proof.rejectsOpen());
    fields.put("agrees", balance.agrees());
    screen.object(fields);
  }

  private void sum(MergeSum sum) {
    scale = Math.max(sum.files().scale(), sum.inTarget().scale());
    StringBuilder parts = new StringBuilder();
    parts.append("files ").append(shown(sum.files()));
    parts.append(" = target ").append(shown(sum.inTarget()));
    part(parts, "duplicate", sum.duplicate());
    part(parts, "rejected", sum.rejected());
    part(parts, "superseded", sum.superseded());
    part(parts, "replaced", sum.replaced());
    part(parts, "waiting", sum.waiting());
    part(parts, "earlier", sum.before().negate());
    part(parts, "reversed", sum.reversed().negate());
    if (sum.inLedger().compareTo(sum.inTarget()) != 0) {
      parts.append("; by the merges the target has ").append(shown(sum.inLedger()));
    }
    line(sum.agrees(), sum.column(), parts.toString(), List.of());
    fields.put("files_" + sum.column(), sum.files().toPlainString());
    fields.put("target_" + sum.column(), sum.inTarget().toPlainString());
  }

  private String shown(BigDecimal value) {
    return Figures.number(value.scale() < scale ? value.setScale(scale) : value);
  }

  private void part(StringBuilder parts, String name, BigDecimal value) {
    if (value.signum() != 0) {
      parts
          .append(value.signum() < 0 ? " - " : " + ")
          .append(name)
          .append(' ')
          .append(shown(value.abs()));
    }
  }

  private void note(String what, String text) {
    screen.line("  %-8s %s  %s".formatted(what, screen.style().notable("note    "), text));
  }

  private void line(boolean agrees, String what, String text, List<String> rows) {
    Style style = screen.style();
    screen.line(
        "  %-8s %s  %s"
            .formatted(what, agrees ? style.good("agrees  ") : style.bad("DISAGREE"), text));
    rows.forEach(row -> screen.line("            " + row));
  }
}
