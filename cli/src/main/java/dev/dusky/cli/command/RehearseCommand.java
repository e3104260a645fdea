package dev.dusky.cli.command;

import dev.dusky.cli.render.GroupReport;
import dev.dusky.cli.render.LoadReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.advice.ProblemGroup;
import dev.dusky.core.advice.ProblemGroups;
import dev.dusky.core.advice.Sighting;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.preview.FittingFeed;
import dev.dusky.core.rehearse.RejectTaker;
import dev.dusky.core.table.TableRule;
import dev.dusky.warehouses.JdbcWarehouse;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Does everything that a load would, and keeps nothing of it. */
@Command(
    name = "rehearse",
    description = "Reads, types and checks everything that a load would, and writes nothing.",
    footer = {
      "",
      "Examples:",
      "  dusky rehearse               what 'dusky load' would do now",
      "  dusky rehearse collections   one feed",
      "",
      "The landing table itself judges the rows, keys and constraints included, in a transaction",
      "that is rolled back. The tally shown is the one that the load would have. Exits with 1 if",
      "a file would be refused."
    })
final class RehearseCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "0..*", description = "The feeds; all if none.")
  List<String> feeds = new ArrayList<>();

  @Override
  int run(Screen screen) {
    try (StopSignal stop = StopSignal.install();
        Workspace workspace = new Workspace(configFile())) {
      boolean clean = true;
      LoadReport report = LoadReport.rehearsal(screen);
      for (Feed feed : workspace.configuration().feedsOrAll(feeds)) {
        ProblemGroups groups = new ProblemGroups();
        Map<String, Long> read = new HashMap<>();
        RejectTaker taker =
            (file, outcome, rejects) -> {
              read.put(file.path(), outcome.tally().read());
              rejects.forEach(
                  reject ->
                      reject
                          .problems()
                          .forEach(
                              problem ->
                                  groups.add(
                                      feed.name(),
                                      new Sighting(
                                          0,
                                          file.path(),
                                          reject.recordNumber(),
                                          reject.line(),
                                          reject.place(),
                                          0,
                                          Instant.now()),
                                      problem)));
            };
        JdbcWarehouse warehouse = workspace.bareWarehouse();
        LoadResult result =
            new FeedLoader(
                    warehouse,
                    warehouse.rehearsal(taker),
                    LoadRun.of(feed, workspace.depot(feed), report.of(feed), stop::requested)
                        .withFitting(new FittingFeed(workspace.configuration().feedsOf(feed))))
                .run(workspace.start(feed));
        report.total(result);
        if (warehouse.shape(feed.into()).isPresent() && !warehouse.judges(feed.into())) {
          unjudged(screen, feed);
        }
        problems(screen, workspace, feed, groups, read);
        clean &= result.clean();
      }
      screen.line("");
      screen.line(screen.style().faint("rehearsed only: nothing was written"));
      return clean ? 0 : Failure.Kind.FILE.exitCode();
    }
  }

  /** Says what the rehearsal could not find out. */
  private static void unjudged(Screen screen, Feed feed) {
    screen.line(
        screen
            .style()
            .notable(
                ("  table %s did not judge the rows (keys, references, constraints): this user may"
                        + " not write into it, or the server only reads")
                    .formatted(feed.into())));
    screen.object(
        Map.of("event", "not_judged", "feed", feed.name(), "table", feed.into().toString()));
  }

  private static void problems(
      Screen screen, Workspace workspace, Feed feed, ProblemGroups groups, Map<String, Long> read) {
    GroupReport report = new GroupReport(screen, workspace.configuration());
    List<TableRule> rules = workspace.bareWarehouse().rules(feed.into());
    for (ProblemGroup group : groups.groups()) {
      report.show(
          group,
          group.paths().stream().mapToLong(path -> read.getOrDefault(path, 0L)).sum(),
          "",
          rules,
          Optional.of(feed));
    }
  }
}
