package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.TallyFigures;
import dev.dusky.core.tally.Tally;
import java.time.Duration;

/** The line that accounts for a file or a load. */
final class TallyText {

  private TallyText() {}

  /** The whole line behind its name, with verdict, time and speed. */
  public static String line(Tally tally, Duration elapsed, Style style) {
    return TallyFigures.sum(tally)
        + "   "
        + verdict(tally, style)
        + "   "
        + Figures.duration(elapsed)
        + "   "
        + Figures.rate(tally.read(), elapsed);
  }

  /** Whether it balances, in a word. */
  public static String verdict(Tally tally, Style style) {
    boolean balanced = tally.balanced() && tally.withheld() == 0;
    return balanced ? style.good("balanced") : style.bad("NOT BALANCED");
  }
}
