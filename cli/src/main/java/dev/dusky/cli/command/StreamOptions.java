package dev.dusky.cli.command;

import dev.dusky.app.stage.StageStream;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.StreamReport;
import dev.dusky.core.failure.Failure;
import java.nio.file.Path;
import java.util.Optional;
import picocli.CommandLine.Option;

/** The options of a stream from standard input or over HTTP, and its run. */
final class StreamOptions {

  @Option(
      names = "--as",
      paramLabel = "NAME",
      description =
          "With - or --listen: the path of each file, with {n} for its number and perhaps"
              + " {date} and {time}; .zst or .gz at its end compresses.")
  String as;

  @Option(
      names = "--roll",
      paramLabel = "SIZE,SPAN",
      description = "With - or --listen: when a file ends; default: 64MB,60s.")
  String roll;

  @Option(
      names = "--records",
      paramLabel = "KIND",
      description =
          "With -: lines, or json for values that need not stand on lines; default: lines.")
  String records = "lines";

  @Option(
      names = "--spool",
      paramLabel = "DIR",
      description = "With - or --listen: the directory that keeps records until they are staged.")
  Path spool;

  @Option(
      names = "--listen",
      paramLabel = "HOST:PORT",
      description = "Take records by HTTP POST to /records instead of from standard input.")
  String listen;

  @Option(
      names = "--secret",
      paramLabel = "REF",
      description = "With --listen: env:NAME or file:PATH of the secret that clients send.")
  String secret;

  /** Stages a stream. */
  int run(Screen screen, Workspace workspace, String depot, Optional<Path> spoolFolder) {
    if (as == null) {
      throw Failure.usage("The files of the stream have no name")
          .hint("Give a name such as --as events/{date}/{time}-{n}.jsonl.zst");
    }
    if (!records.equals("lines") && !records.equals("json")) {
      throw Failure.usage("--records cannot be '" + records + "'").hint("Write lines or json");
    }
    StageStream stream =
        new StageStream(workspace, depot, as, Optional.ofNullable(roll), spoolFolder);
    StreamReport report = new StreamReport(screen);
    if (listen != null && secret == null) {
      throw Failure.usage("--listen needs --secret")
          .hint("Name the secret that clients send, such as --secret env:INTAKE_SECRET");
    }
    try (StopSignal stop = StopSignal.install()) {
      if (listen != null) {
        report.end(
            depot,
            stream.listen(
                listen, secret, port -> report.listening(listen, port), report, stop::requested));
        return 0;
      }
      report.end(depot, stream.run(System.in, records.equals("json"), report, stop::requested));
      return 0;
    }
  }
}
