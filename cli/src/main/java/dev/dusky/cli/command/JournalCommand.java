package dev.dusky.cli.command;

import dev.dusky.app.config.DurationText;
import dev.dusky.app.config.Prices;
import dev.dusky.app.journal.ReadJournal;
import dev.dusky.app.journal.UsageSums;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.DriftReport;
import dev.dusky.cli.render.JournalReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.UsageReport;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.JournalChoice;
import java.time.Duration;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Shows the history. */
@Command(
    name = "journal",
    description = "Shows loads and merges with time, duration, user and outcome.",
    footer = {
      "",
      "Examples:",
      "  dusky journal                        the newest 20 loads and merges",
      "  dusky journal collections            one feed's loads, or one merge's runs",
      "  dusky journal --day 2026-03-02 --state failed",
      "  dusky journal --load 3               each file of load 3",
      "  dusky journal collections --drift    files with other fields, and the action taken",
      "  dusky journal --merge 2              the files of merge 2, and its rejects",
      "  dusky journal --usage --by month     what was used, and what it cost"
    })
final class JournalCommand extends DuskyCommand {

  @Parameters(arity = "0..1", paramLabel = "NAME", description = "The feed or merge; default: all.")
  String name;

  @Option(names = "--load", paramLabel = "ID", description = "Show the files of this load.")
  Long load;

  @Option(names = "--merge", paramLabel = "ID", description = "Show the files of this merge.")
  Long merge;

  @Option(
      names = "--table",
      paramLabel = "TABLE",
      description = "Only loads and merges into or from this table.")
  String table;

  @Option(
      names = "--day",
      paramLabel = "DAY",
      description = "Only entries started on this day (UTC), such as 2026-03-02.")
  String day;

  @Option(
      names = "--state",
      paramLabel = "STATE",
      description = "Only entries in this state: running, done, failed, interrupted.")
  String state;

  @Option(names = "--file", paramLabel = "PATH", description = "Only entries of this file.")
  String file;

  @Option(names = "--drift", description = "Show how files differed from their feeds.")
  boolean drift;

  @Option(
      names = {"-n", "--entries"},
      paramLabel = "N",
      description = "Maximum number of entries; default: 20.")
  int most = 20;

  @Option(
      names = "--usage",
      description = "Show time, bytes and requests of loads and merges, and their cost.")
  boolean usage;

  @Option(
      names = "--by",
      paramLabel = "WHAT",
      description = "Sum usage by feed, day or month; default: feed.")
  String by;

  @Option(
      names = "--since",
      paramLabel = "SPAN",
      description = "Usage of this span up to now, such as 90d; default: 30d.")
  String since;

  @Override
  int run(Screen screen) {
    if (most < 1) {
      throw Failure.usage("--entries must be 1 or more");
    }
    if (!usage && (by != null || since != null)) {
      throw Failure.usage("--by and --since belong to --usage");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      if (usage) {
        usage(screen, workspace);
        return 0;
      }
      ReadJournal journal = new ReadJournal(workspace, Optional.ofNullable(name));
      JournalReport report = new JournalReport(screen);
      if (drift) {
        new DriftReport(screen).show(journal.drifts(choice(), load, most));
      } else if (load != null) {
        report.files(load, journal.load(load));
      } else if (merge != null) {
        report.merge(journal.merge(merge));
      } else {
        report.entries(journal.entries(choice(), most), most);
      }
    }
    return 0;
  }

  private void usage(Screen screen, Workspace workspace) {
    UsageSums.By sum = UsageSums.by(by == null ? "feed" : by);
    Duration span =
        DurationText.parse(since == null ? "30d" : since)
            .orElseThrow(
                () ->
                    Failure.usage("--since cannot be '%s'".formatted(since))
                        .hint("Write a span such as 12h or 90d"));
    new UsageReport(screen)
        .show(
            new UsageSums(workspace).of(Optional.ofNullable(name), span, sum),
            workspace.configuration().prices().map(Prices::currency));
  }

  private JournalChoice choice() {
    return new JournalChoice(
        Optional.ofNullable(name),
        Optional.ofNullable(table),
        Optional.ofNullable(day).map(ReadJournal::day),
        Optional.ofNullable(state).map(ReadJournal::state),
        Optional.ofNullable(file));
  }
}
