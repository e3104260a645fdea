package dev.dusky.cli.render;

import dev.dusky.core.tally.Tally;
import java.time.Duration;

/** The line that accounts for a file or a load. */
public final class TallyText {

  private TallyText() {}

  /** {@code read 12 480 = loaded 12 401 + duplicate 62 + rejected 17 + filtered 0}. */
  public static String sum(Tally tally) {
    return "read %s = loaded %s + duplicate %s + rejected %s + filtered %s"
        .formatted(
            Figures.count(tally.read()),
            Figures.count(tally.loaded()),
            Figures.count(tally.duplicate()),
            Figures.count(tally.rejected()),
            Figures.count(tally.filtered()));
  }

  /** The whole line behind its name, with verdict, time and speed. */
  public static String line(Tally tally, Duration elapsed, Style style) {
    return sum(tally)
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
