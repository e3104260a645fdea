package dev.dusky.cli.render;

import dev.dusky.app.figures.TallyFigures;
import dev.dusky.app.reject.MendRejects.Mended;
import dev.dusky.core.mend.MendListener;
import dev.dusky.core.mend.RepairMatcher.Unmatched;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.StoredReject;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Shows what became of each reject that was mended, or not. */
public final class MendReport implements MendListener {

  private static final int MOST = 40;

  private final Screen screen;
  private final Style style;
  private int shown;
  private int wrong;

  /** A report on that screen. */
  public MendReport(Screen screen) {
    this.screen = screen;
    this.style = screen.style();
  }

  /** Whether everything was mended. */
  public boolean clean() {
    return wrong == 0;
  }

  /** Shows a record that mends nothing. */
  public void unmatched(Unmatched record) {
    wrong++;
    screen.line("  " + style.bad("line " + record.line()) + " " + record.why());
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "left-out");
    fields.put("line", record.line());
    fields.put("message", record.why());
    screen.object(fields);
  }

  /** Shows the sum. */
  public void total(Mended mended) {
    if (mended.tally().isEmpty()) {
      screen.line("nothing to mend");
      return;
    }
    screen.line(
        style.strong(mended.feed().name())
            + "  mended  "
            + TallyText.line(mended.tally().get(), mended.elapsed(), style));
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "mend");
    fields.put("feed", mended.feed().name());
    fields.putAll(TallyFigures.fields(mended.tally().get()));
    screen.object(fields);
  }

  @Override
  public void mended(StoredReject reject) {
    if (++shown <= MOST) {
      screen.line(
          "  " + style.state("mended") + "      reject " + reject.id() + "  " + reject.where());
    } else if (shown == MOST + 1) {
      screen.line(style.faint("  further mended rejects are not listed"));
    }
    object("mended", reject);
  }

  @Override
  public void wrong(StoredReject reject, List<Problem> problems) {
    wrong++;
    screen.line("  " + style.bad("still wrong") + " reject " + reject.id() + "  " + reject.where());
    for (Problem problem : problems) {
      screen.line(
          "                "
              + (problem.column().isEmpty() ? "" : problem.column() + ": ")
              + TableText.visible(problem.message())
              + style.notable("  " + problem.code().label()));
    }
    object("wrong", reject);
  }

  @Override
  public void settled(StoredReject reject) {
    wrong++;
    screen.line(
        "  "
            + style.bad("left")
            + "        reject "
            + reject.id()
            + " was settled meanwhile, or another process holds it");
    object("settled", reject);
  }

  private void object(String event, StoredReject reject) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", event);
    fields.put("reject", reject.id());
    fields.put("path", reject.file().path());
    fields.put("record", reject.reject().recordNumber());
    screen.object(fields);
  }
}
