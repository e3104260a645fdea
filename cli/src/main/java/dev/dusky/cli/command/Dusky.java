package dev.dusky.cli.command;

import dev.dusky.app.workspace.Version;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** The program itself. */
@Command(
    name = "dusky",
    description = {
      "Stages files, loads them into warehouse tables, and accounts for every file and row."
    },
    synopsisSubcommandLabel = "COMMAND",
    commandListHeading = "%nCommands:%n",
    footer = {
      "",
      "Try 'dusky demo' for a tour, and 'dusky COMMAND --help' for examples.",
      "Exit codes: 0 done, 1 a file was refused, 2 usage, 3 configuration, 4 depot, 5 warehouse,",
      "6 the ledger does not balance, 70 an unexpected error, 130 interrupted."
    },
    versionProvider = Dusky.Provider.class,
    subcommands = {
      InitCommand.class,
      DemoCommand.class,
      ProbeCommand.class,
      StageCommand.class,
      FilesCommand.class,
      PeekCommand.class,
      DraftCommand.class,
      RehearseCommand.class,
      LoadCommand.class,
      WatchCommand.class,
      PauseCommand.class,
      ResumeCommand.class,
      RejectsCommand.class,
      MendCommand.class,
      MergeCommand.class,
      ReverseCommand.class,
      PromoteCommand.class,
      JournalCommand.class,
      ReportCommand.class,
      AlertsCommand.class,
      BalanceCommand.class,
      SqlCommand.class,
      EngineCommand.class,
      TidyCommand.class
    })
final class Dusky implements Runnable {

  @Option(
      names = {"-h", "--help"},
      usageHelp = true,
      description = "Show this help.")
  boolean help;

  @Option(names = "--version", versionHelp = true, description = "Show the version.")
  boolean version;

  @Spec CommandSpec spec;

  @Override
  public void run() {
    spec.commandLine().usage(System.out);
  }

  /** Gives the version to picocli. */
  static final class Provider implements CommandLine.IVersionProvider {
    @Override
    public String[] getVersion() {
      return new String[] {"dusky " + Version.NUMBER};
    }
  }
}
