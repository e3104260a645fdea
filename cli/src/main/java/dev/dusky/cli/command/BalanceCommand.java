package dev.dusky.cli.command;

import dev.dusky.app.balance.BalanceBooks;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.BalanceReport;
import dev.dusky.cli.render.MergeBalanceReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.balance.FeedBalance;
import dev.dusky.core.balance.MergeBalance;
import dev.dusky.core.failure.Failure;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Compares the ledger with tables and depots. */
@Command(
    name = "balance",
    description = "Compares the ledger with itself, tables, targets and depots.",
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
      BalanceReport report = new BalanceReport(screen, depotMayDiffer);
      new BalanceBooks(workspace, !noDepot)
          .run(names, feed -> feed(report, feed), merge -> merge(screen, merge));
    }
    screen.line(
        balanced
            ? screen.style().good("the ledger balances")
            : screen.style().bad("THE LEDGER DOES NOT BALANCE"));
    return balanced ? 0 : ExitCode.of(Failure.Kind.LEDGER);
  }

  private void feed(BalanceReport report, FeedBalance balance) {
    balanced &= balance.tablesAgree() && (depotMayDiffer || balance.depotAgrees());
    report.feed(balance);
  }

  private void merge(Screen screen, MergeBalance balance) {
    balanced &= balance.agrees();
    new MergeBalanceReport(screen).show(balance);
  }
}
