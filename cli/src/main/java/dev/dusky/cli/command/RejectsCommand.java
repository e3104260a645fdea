package dev.dusky.cli.command;

import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.GroupReport;
import dev.dusky.cli.render.Moments;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.render.TableText;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.advice.ProblemGroup;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectState;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.table.TableRule;
import dev.dusky.warehouses.RejectBook.First;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Base64;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Groups, lists and settles rejects. */
@Command(
    name = "rejects",
    description = "Groups the open rejects by column and reason, with the ways out of each.",
    subcommands = {
      RejectsShowCommand.class,
      RejectsExportCommand.class,
      RejectsWaiveCommand.class,
      RejectsPurgeCommand.class
    },
    footer = {
      "",
      "Examples:",
      "  dusky rejects                          all feeds",
      "  dusky rejects collections --list 100   one feed, with its first 100 rejects",
      "  dusky rejects show 17                  one reject, with the place at fault underlined",
      "  dusky rejects --json --list 1000000    everything, for a program"
    })
final class RejectsCommand extends DuskyCommand {

  @Parameters(arity = "0..1", paramLabel = "FEED", description = "The feed; all if not given.")
  String feed;

  @Option(
      names = "--list",
      paramLabel = "N",
      description = "List so many rejects one by one behind the groups; none if not given.")
  int most;

  @Option(
      names = "--state",
      paramLabel = "STATE",
      description = "Rejects in this state: open (if not given), mended, waived, or any.")
  String state = "open";

  @Mixin RejectFilter filter = new RejectFilter();

  @Override
  int run(Screen screen) {
    if (most < 0) {
      throw Failure.usage("--list must not be negative");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      RejectChoice choice = filter.choice(workspace.configuration(), feed, List.of(), state(state));
      RejectBook book = workspace.warehouse().rejects();
      List<ProblemGroup> groups = book.groups(choice).groups();
      if (groups.isEmpty()) {
        screen.line("any".equals(state) ? "no rejects" : "no " + state + " rejects");
        return 0;
      }
      summarise(screen, workspace, book, groups);
      if (most > 0) {
        list(screen, book.list(choice, most));
      }
    }
    return 0;
  }

  /** The state with that label; empty for any. */
  static Optional<RejectState> state(String label) {
    if (label.equalsIgnoreCase("any")) {
      return Optional.empty();
    }
    for (RejectState state : RejectState.values()) {
      if (state.label().equals(label.toLowerCase(Locale.ROOT))) {
        return Optional.of(state);
      }
    }
    throw Failure.usage("There is no state '" + label + "' of rejects")
        .next("It is one of open, mended, waived, any");
  }

  private static void summarise(
      Screen screen, Workspace workspace, RejectBook book, List<ProblemGroup> groups) {
    GroupReport report = new GroupReport(screen, workspace.configuration());
    Map<String, Map<String, Long>> read = new HashMap<>();
    Map<String, Map<String, First>> firsts = new HashMap<>();
    Map<String, List<TableRule>> rules = new HashMap<>();
    for (ProblemGroup group : groups) {
      Optional<Feed> declared =
          Optional.ofNullable(workspace.configuration().feeds().get(group.feed()));
      Map<String, Long> rows = read.computeIfAbsent(group.feed(), book::rowsRead);
      First first =
          firsts
              .computeIfAbsent(group.feed(), book::firsts)
              .get(group.column() + " " + group.code().label());
      report.show(
          group,
          group.paths().stream().mapToLong(path -> rows.getOrDefault(path, 0L)).sum(),
          since(first),
          declared
              .map(
                  f ->
                      rules.computeIfAbsent(
                          f.name(), name -> workspace.warehouse().rules(f.into())))
              .orElse(List.of()),
          declared);
    }
    screen.line("");
    long problems = groups.stream().mapToLong(ProblemGroup::count).sum();
    screen.line(
        screen
            .style()
            .faint(
                "%s in %s. dusky rejects show ID shows one, --list N lists them"
                    .formatted(
                        Figures.plural(problems, "problem"),
                        Figures.plural(groups.size(), "group"))));
  }

  private static String since(First first) {
    if (first == null) {
      return "";
    }
    boolean today =
        first
            .at()
            .atZone(ZoneOffset.UTC)
            .toLocalDate()
            .equals(Instant.now().atZone(ZoneOffset.UTC).toLocalDate());
    return today
        ? "new today, since load " + first.loadId()
        : "since load %d of %s".formatted(first.loadId(), Moments.minute(first.at()));
  }

  private static void list(Screen screen, List<StoredReject> rejects) {
    Style style = screen.style();
    screen.line("");
    for (StoredReject reject : rejects) {
      screen.line(
          style.strong("reject " + reject.id())
              + "  "
              + style.state(reject.state().label())
              + "  "
              + reject.where()
              + style.faint(
                  "  record %d, byte %d"
                      .formatted(reject.reject().recordNumber(), reject.reject().byteOffset())));
      screen.line("    " + shown(reject.latest(), screen.terminal().width() - 4));
      for (Problem problem : reject.reject().problems()) {
        screen.line(
            "    "
                + style.notable(problem.code().label())
                + (problem.column().isEmpty() ? "" : " in " + problem.column())
                + ": "
                + TableText.visible(problem.message()));
        screen.object(json(reject, problem));
      }
    }
  }

  private static String shown(byte[] raw, int width) {
    String text = TableText.visible(new String(raw, StandardCharsets.UTF_8));
    return text.length() <= width ? text : text.substring(0, Math.max(8, width - 1)) + "\u2026";
  }

  /** A problem of a reject for machines. */
  static Map<String, Object> json(StoredReject reject, Problem problem) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "reject");
    fields.put("reject", reject.id());
    fields.put("feed", reject.feed());
    fields.put("path", reject.file().path());
    fields.put("load", reject.loadId());
    fields.put("record", reject.reject().recordNumber());
    fields.put("line", reject.reject().line());
    fields.put("byte", reject.reject().byteOffset());
    fields.put("state", reject.state().label());
    fields.put("code", problem.code().label());
    fields.put("column", problem.column());
    fields.put("value", problem.value());
    fields.put("message", problem.message());
    fields.put("raw_base64", Base64.getEncoder().encodeToString(reject.reject().raw()));
    reject.settledBy().ifPresent(by -> fields.put("settled_by", by));
    reject.settledAt().ifPresent(at -> fields.put("settled_at", at.toString()));
    reject.reason().ifPresent(reason -> fields.put("reason", reason));
    return fields;
  }
}
