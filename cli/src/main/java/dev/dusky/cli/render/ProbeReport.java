package dev.dusky.cli.render;

import dev.dusky.app.probe.NeededGrants.Purpose;
import dev.dusky.app.probe.NeededPolicies.Policy;
import dev.dusky.app.probe.ProbePlaces;
import dev.dusky.app.watch.ProbeNotices;
import dev.dusky.cli.process.Launcher;
import dev.dusky.core.failure.Failure;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Shows checks one by one. */
public final class ProbeReport implements ProbePlaces.Listener {

  private static final int LEAST_WIDTH = 9;
  private static final int MOST_WIDTH = 40;

  private final Screen screen;
  private final boolean debug;
  private int width = LEAST_WIDTH;

  /**
   * A report on that screen.
   *
   * @param debug whether stack traces are shown
   */
  public ProbeReport(Screen screen, boolean debug) {
    this.screen = screen;
    this.debug = debug;
  }

  @Override
  public void place(String name, String title, String address, List<String> steps) {
    width = steps.stream().mapToInt(String::length).max().orElse(0);
    width = Math.max(LEAST_WIDTH, Math.min(MOST_WIDTH, width));
    screen.line(screen.style().strong(title) + "  " + address);
  }

  @Override
  public void passed(String name, String step, boolean tried, String remark) {
    show(name, step, tried ? "passed" : "not tried", remark);
  }

  @Override
  public void failed(String name, String step, Failure failure) {
    if (debug) {
      failure.printStackTrace();
    }
    show(name, step, "failed", failure.message(Launcher::words));
  }

  @Override
  public void failedAgain(String name, String step, String earlier, Failure failure) {
    show(name, step, "failed", "for the same cause as " + earlier);
  }

  private void show(String name, String step, String verdict, String remark) {
    screen.line(
        ("  %-" + width + "s %s  %s")
            .formatted(step, screen.style().state("%-9s".formatted(verdict)), remark)
            .stripTrailing());
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("name", name);
    fields.put("check", step);
    fields.put("verdict", verdict);
    fields.put("remark", remark);
    screen.object(fields);
  }

  /** Shows whether the notice of a feed's file came. */
  public void notice(ProbeNotices.Outcome outcome) {
    show(outcome.feed(), outcome.feed(), outcome.came() ? "passed" : "failed", outcome.words());
  }

  /** Shows how many checks failed. */
  public void end(int failures) {
    screen.line(
        failures == 0
            ? screen.style().good("everything passed")
            : screen.style().bad(failures == 1 ? "1 check failed" : failures + " checks failed"));
  }

  /** Shows a policy of access. */
  public void policy(Policy policy) {
    screen.line("-- " + policy.what());
    policy.text().lines().forEach(screen::line);
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("purpose", policy.what());
    fields.put("policy", policy.text());
    screen.object(fields);
  }

  /** Shows the statements that grant rights. */
  public void grants(Purpose purpose) {
    screen.line("-- " + purpose.purpose());
    for (String statement : purpose.statements()) {
      screen.line(statement + ";");
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("purpose", purpose.purpose());
      fields.put("statement", statement);
      screen.object(fields);
    }
  }
}
