package dev.dusky.cli.command;

import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.MergeReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeOrder;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeStart;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.warehouses.merging.JdbcMerges;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** JdbcMerges landed rows into targets. */
@Command(
    name = "merge",
    description = "Merges landed rows into target tables by key.",
    footer = {
      "",
      "Examples:",
      "  dusky merge                     everything that landed, dimensions before facts",
      "  dusky merge farm --rehearse     what would change, and nothing is kept",
      "  dusky merge collection --retry  its rejected rows again, once their cause is gone",
      "  dusky merge farm --show-sql     the statements, with what each is for",
      "  dusky merge farm --fill owner   a column that landed later, for the rows there are",
      "",
      "Each merge is one transaction with its ledger entry. Rows that are merged are not taken",
      "again, and rows that would change nothing are not touched, so running it again is always",
      "safe. Exits with 1 if rows were rejected."
    })
final class MergeCommand extends DuskyCommand {

  @Parameters(
      paramLabel = "NAME",
      arity = "0..*",
      description = "The merges to run; all if none, in the order in which they need one another.")
  List<String> names = new ArrayList<>();

  @Option(names = "--rehearse", description = "Show what would change and undo it.")
  boolean rehearse;

  @Option(
      names = {"-n", "--changes"},
      paramLabel = "N",
      description = "How many changes of each kind a rehearsal shows; 5 if not given.")
  int most = 5;

  @Option(names = "--retry", description = "Take rejected rows again, and no new ones.")
  boolean retry;

  @Option(
      names = "--fill",
      paramLabel = "COLUMN",
      split = ",",
      description = {
        "Fill columns of the target from rows merged before, adding those it lacks.",
        "Takes no new rows."
      })
  List<String> fill = new ArrayList<>();

  @Option(names = "--show-sql", description = "Print the statements and run nothing.")
  boolean showSql;

  @Override
  int run(Screen screen) {
    if (most < 1) {
      throw Failure.usage("--changes must be 1 or more");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      List<Merge> merges = workspace.configuration().mergesOrAll(names);
      workspace.closeInterrupted();
      JdbcMerges runner = workspace.warehouse().merges();
      if (!fill.isEmpty()) {
        fill(screen, merges, runner);
        return 0;
      }
      if (showSql) {
        merges.forEach(merge -> show(screen, merge, runner.script(merge)));
        return 0;
      }
      MergeReport report = new MergeReport(screen, rehearse);
      MergeOrder order = new MergeOrder(workspace.configuration().merges());
      Set<String> failed = new LinkedHashSet<>();
      Failure first = null;
      boolean clean = true;
      for (Merge merge : merges) {
        Optional<String> awaited = order.waitsFor(merge, failed);
        if (awaited.isPresent()) {
          failed.add(merge.name());
          report.skipped(merge, awaited.get());
          continue;
        }
        MergeStart start =
            Workspace.mergeStart(
                retry,
                rehearse ? OptionalLong.of(json ? Long.MAX_VALUE : most) : OptionalLong.empty());
        List<MergeResult> results = new ArrayList<>();
        try {
          runner.run(merge, start, report::waiting, results::add);
          report.merged(merge, results);
        } catch (Failure failure) {
          if (!results.isEmpty()) {
            report.merged(merge, results);
          }
          if (workspace.warehouse().lost() || merges.size() == 1) {
            throw failure;
          }
          failed.add(merge.name());
          first = first == null ? failure : first;
          report.failed(merge, failure);
        }
        clean &=
            results.stream()
                    .map(MergeResult::tally)
                    .reduce(MergeTally.NONE, MergeTally::plus)
                    .rejected()
                == 0;
      }
      report.end();
      if (first != null) {
        return first.kind().exitCode();
      }
      return clean ? 0 : Failure.Kind.FILE.exitCode();
    }
  }

  private void fill(Screen screen, List<Merge> merges, JdbcMerges runner) {
    if (names.size() != 1 || rehearse || retry || showSql) {
      throw Failure.usage("--fill goes with the name of one merge and no other option");
    }
    Merge merge = merges.get(0);
    long rows = runner.fill(merge, fill, Workspace.mergeStart(false, OptionalLong.empty()));
    screen.line(
        "%s  filled %s in %s of %s"
            .formatted(
                screen.style().strong(merge.name()),
                String.join(", ", fill),
                Figures.plural(rows, "row"),
                merge.into()));
    screen.object(Map.of("event", "fill", "merge", merge.name(), "columns", fill, "rows", rows));
  }

  private static void show(Screen screen, Merge merge, List<MergeStep> steps) {
    screen.line(screen.style().strong("-- merge %s into %s".formatted(merge.name(), merge.into())));
    for (MergeStep step : steps) {
      screen.block(step.toString());
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("merge", merge.name());
      fields.put("comment", step.comment());
      fields.put("sql", step.sql());
      screen.object(fields);
    }
  }
}
