package dev.dusky.cli.command;

import dev.dusky.app.journal.ListFiles;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.app.workspace.UnusualFiles;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.ExpectedReport;
import dev.dusky.cli.render.FilesReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.StatusReport;
import dev.dusky.cli.render.UnusualReport;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Lists files with their states. */
@Command(
    name = "files",
    description = "Lists a depot's files as a feed sees them, with their state in the ledger.",
    footer = {
      "",
      "Examples:",
      "  dusky files                              every feed's files",
      "  dusky files collections --state waiting  the files of the next load",
      "  dusky files --summary                    one line per feed: waiting files and since when",
      "  dusky files --missing                    expected files that did not come, or came late"
    })
final class FilesCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "0..*", description = "The feeds; all if none.")
  List<String> feeds = new ArrayList<>();

  @Option(
      names = "--state",
      paramLabel = "STATE",
      description = "Only files in this state: waiting, posted, refused, twin, revised.")
  String state;

  @Option(names = "--summary", description = "One line per feed instead of one per file.")
  boolean summary;

  @Option(
      names = "--missing",
      description =
          "Show for which periods expected files are missing, late or too many, instead of files.")
  boolean missing;

  @Option(
      names = "--unusual",
      description = "Show posted files with an unusual volume, instead of all files.")
  boolean unusual;

  @Override
  int run(Screen screen) {
    Optional<FileState> only = Optional.ofNullable(state).map(ListFiles::state);
    if (Stream.of(summary, missing, unusual, only.isPresent()).filter(given -> given).count() > 1) {
      throw Failure.usage("--summary, --missing, --unusual and --state cannot be combined");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      ListFiles files = new ListFiles(workspace);
      List<Feed> chosen = files.feeds(feeds);
      Instant now = Instant.now();
      if (missing) {
        new ExpectedReport(screen).show(files.status(chosen, now));
        return 0;
      }
      if (unusual) {
        Instant since = now.minus(FeedStatus.LOOK_BACK);
        new UnusualReport(screen)
            .show(
                chosen.stream()
                    .flatMap(feed -> UnusualFiles.of(workspace, feed, since).stream())
                    .toList(),
                FeedStatus.LOOK_BACK.toDays());
        return 0;
      }
      if (summary) {
        new StatusReport(screen, now).show(files.status(chosen, now));
        return 0;
      }
      FilesReport report = new FilesReport(screen, only);
      chosen.forEach(feed -> report.show(feed, files.of(feed)));
    }
    return 0;
  }
}
