package dev.dusky.cli.command;

import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.mend.RejectFile;
import dev.dusky.core.reject.RejectState;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Writes rejects to files for repair. */
@Command(
    name = "export",
    description = "Writes the raw records of open rejects to a file, to be repaired and mended.",
    footer = {
      "",
      "Examples:",
      "  dusky rejects export collections                        all open rejects of a feed",
      "  dusky rejects export collections --column litres --to fix/litres",
      "",
      "The file is in the feed's own layout; each record begins with the number of its reject.",
      "Keep the numbers, correct the records, leave out what shall stay open, and give the file",
      "to 'dusky mend'. The reasons are written beside it."
    })
final class RejectsExportCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", description = "The feed.")
  String feed;

  @Mixin RejectFilter filter = new RejectFilter();

  @Option(
      names = "--to",
      paramLabel = "NAME",
      description = "The file to write, without extension; FEED-rejects if not given.")
  Path to;

  @Option(names = "--replace", description = "Replace files that are there.")
  boolean replace;

  @Override
  int run(Screen screen) throws Exception {
    Path base = local(to == null ? Path.of(feed + "-rejects") : to).toAbsolutePath().normalize();
    try (Workspace workspace = new Workspace(configFile())) {
      Feed declared = workspace.configuration().feed(feed);
      Files.createDirectories(base.getParent());
      refuseExisting(base);
      RejectFile file = new RejectFile(base, declared);
      try (file) {
        workspace
            .warehouse()
            .rejects()
            .forEach(
                filter.choice(
                    workspace.configuration(), feed, List.of(), Optional.of(RejectState.OPEN)),
                file::add);
      }
      List<String> shown = new ArrayList<>();
      for (Path path : file.paths()) {
        Path from = local(Path.of("")).toAbsolutePath().normalize();
        shown.add(path.startsWith(from) ? from.relativize(path).toString() : path.toString());
      }
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("event", "exported");
      fields.put("feed", feed);
      fields.put("rejects", file.count());
      fields.put("files", shown);
      screen.object(fields);
      screen.line(
          "%s written%s"
              .formatted(
                  Figures.plural(file.count(), "open reject"),
                  shown.isEmpty() ? "" : " to " + String.join(", ", shown)));
    }
    return 0;
  }

  private void refuseExisting(Path base) throws Exception {
    if (replace) {
      return;
    }
    try (var siblings = Files.list(base.getParent())) {
      Optional<Path> there =
          siblings
              .filter(p -> p.getFileName().toString().startsWith(base.getFileName() + "."))
              .findFirst();
      if (there.isPresent()) {
        throw Failure.usage(there.get() + " is there already")
            .next("It may hold repairs: mend it first, name another with --to, or give --replace");
      }
    }
  }
}
