package dev.dusky.cli.command;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.config.DurationText;
import dev.dusky.app.config.WatchSettings;
import dev.dusky.app.figures.Figures;
import dev.dusky.app.http.PageAccess;
import dev.dusky.app.report.MakeReport;
import dev.dusky.app.report.Need;
import dev.dusky.app.report.Report;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.page.ReportPage;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Writes the ledger as a page. */
@Command(
    name = "report",
    description = "Writes a page of HTML that shows the ledger: charts, files, rejects, proof.",
    footer = {
      "",
      "Examples:",
      "  dusky report                         the last 30 days into report.html",
      "  dusky report collections --since 90d --to march.html",
      "",
      "The page needs nothing else: it can be sent by mail and opened without a network. Its",
      "numbers are those of the ledger. --no-proof saves the time to count the tables."
    })
final class ReportCommand extends DuskyCommand {

  private static final Duration LONGEST = Duration.ofDays(400);

  @Parameters(paramLabel = "FEED", arity = "0..*", description = "The feeds to show; all if none.")
  List<String> feeds = new ArrayList<>();

  @Option(
      names = "--since",
      paramLabel = "SPAN",
      description = "How far back, such as 7d or 12h, up to 400d; default: 30d.")
  String since = "30d";

  @Option(
      names = "--to",
      paramLabel = "FILE",
      description = "The file to write; default: report.html.")
  Path to = Path.of("report.html");

  @Option(
      names = "--zone",
      paramLabel = "ZONE",
      description = "The time zone of days, such as Europe/Vienna; default: UTC.")
  String zone = "UTC";

  @Option(names = "--no-proof", description = "Do not compare the ledger with the tables.")
  boolean noProof;

  @Option(
      names = "--link",
      description = "Print the link to the page that dusky watch serves, and write nothing.")
  boolean link;

  @Override
  int run(Screen screen) {
    if (link) {
      WatchSettings watch = Configuration.read(configFile()).watch();
      String address = address(watch);
      screen.line(address);
      screen.object(Map.of("link", address));
      return 0;
    }
    Duration period =
        DurationText.parse(since)
            .filter(span -> !span.isZero() && span.compareTo(LONGEST) <= 0)
            .orElseThrow(
                () ->
                    Failure.usage("--since %s is not a period".formatted(since))
                        .hint("Write a span such as 12h or 30d, at most 400d"));
    Path file = local(to);
    try (Workspace workspace = new Workspace(configFile())) {
      Report report = new MakeReport(workspace).make(feeds, period, zone(), !noProof);
      String page = new ReportPage().write(report);
      write(file, page);
      for (Need need : report.needs()) {
        Style style = screen.style();
        String about = need.fault() ? style.bad(need.about()) : style.notable(need.about());
        screen.line("%s  %s  %s".formatted(about, need.words(), style.faint(need.command())));
      }
      screen.line(
          "%s: %s, %s of %s"
              .formatted(
                  to,
                  Figures.bytes(page.getBytes(StandardCharsets.UTF_8).length),
                  Figures.plural(report.fileCount(), "outcome"),
                  Figures.plural(report.feeds().size(), "feed")));
      screen.object(json(report));
    }
    return 0;
  }

  private static String address(WatchSettings watch) {
    InetSocketAddress listen =
        watch
            .listen()
            .orElseThrow(
                () ->
                    Failure.configuration("dusky watch serves no page")
                        .hint("Add watch: { listen: 127.0.0.1:9440, secret: env:NAME }"));
    return "http://%s:%d/%s"
        .formatted(
            listen.getHostString(),
            listen.getPort(),
            PageAccess.query(watch.secret().orElseThrow()));
  }

  private ZoneId zone() {
    try {
      return ZoneId.of(zone);
    } catch (DateTimeException e) {
      throw Failure.usage("--zone " + zone + " is not a time zone")
          .hint("Name one as Europe/Vienna, +01:00 or UTC");
    }
  }

  /** The page replaces an older one when it is complete. */
  private static void write(Path file, String page) {
    Path part = file.resolveSibling(file.getFileName() + ".part");
    try {
      if (Files.isDirectory(file)) {
        throw new FileSystemException(file.toString(), null, "it is a directory");
      }
      Files.writeString(part, page);
      Files.move(part, file, StandardCopyOption.REPLACE_EXISTING);
    } catch (IOException e) {
      boolean nowhere = e instanceof NoSuchFileException;
      throw Failure.usage("The report cannot be written to " + file)
          .because(nowhere ? "there is no such directory" : String.valueOf(e.getMessage()))
          .hint("Name another file with --to")
          .from(e);
    }
  }

  private Map<String, Object> json(Report report) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("file", to.toString());
    json.put("since", report.since().toString());
    json.put("made", report.made().toString());
    json.put("feeds", report.feeds().stream().map(feed -> feed.feed()).toList());
    json.put("entries", report.fileCount());
    json.put(
        "needs",
        report.needs().stream()
            .map(
                need ->
                    Map.of("about", need.about(), "what", need.words(), "command", need.command()))
            .toList());
    return json;
  }
}
