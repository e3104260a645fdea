package dev.dusky.cli.command;

import dev.dusky.cli.render.LoadReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.render.TableText;
import dev.dusky.cli.render.TallyText;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.mend.MendListener;
import dev.dusky.core.mend.Mender;
import dev.dusky.core.mend.Repair;
import dev.dusky.core.mend.RepairedFile;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectState;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.tally.Tally;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Loads repaired rejects. */
@Command(
    name = "mend",
    description = "Loads repaired rejects, each as the row that its file should have had.",
    footer = {
      "",
      "Examples:",
      "  dusky mend collections-rejects.csv          records corrected in an exported file",
      "  dusky mend --retry collections              open rejects as they are, after the table or",
      "                                              the feed was changed",
      "  dusky mend --retry collections --column farm_code",
      "",
      "Each record goes through the same reading, typing and checks as any other. What is still",
      "wrong stays open with its new reasons; what is not in the file stays open too. A reject can",
      "be mended once only."
    })
final class MendCommand extends DuskyCommand {

  @Parameters(
      arity = "1",
      paramLabel = "FILE|FEED",
      description = "A file that was exported and corrected; with --retry the feed.")
  String what;

  @Option(
      names = "--retry",
      description = "Read open rejects of the feed again as they are, no file needed.")
  boolean retry;

  @Mixin RejectFilter filter = new RejectFilter();

  private int wrong;

  @Override
  int run(Screen screen) throws Exception {
    if (!retry && !filter.isEmpty()) {
      throw Failure.usage("--column, --code, --file and --load choose what --retry reads again")
          .next("To mend some records of a file only, leave the others out of it");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      workspace.closeInterrupted();
      RejectBook book = workspace.warehouse().rejects();
      List<Repair> repairs = new ArrayList<>();
      Feed feed = retry ? open(workspace, book, repairs) : read(screen, workspace, book, repairs);
      refuseRefused(repairs);
      if (repairs.isEmpty()) {
        screen.line("nothing to mend");
        return wrong == 0 ? 0 : Failure.Kind.FILE.exitCode();
      }
      long startNanos = System.nanoTime();
      Tally tally =
          new Mender(
                  workspace.warehouse().ledger(), feed, workspace.start(feed), new Listener(screen))
              .run(repairs);
      Duration elapsed = Duration.ofNanos(System.nanoTime() - startNanos);
      screen.line(
          screen.style().strong(feed.name())
              + "  mended  "
              + TallyText.line(tally, elapsed, screen.style()));
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("event", "mend");
      fields.put("feed", feed.name());
      fields.putAll(LoadReport.tally(tally));
      screen.object(fields);
    }
    return wrong == 0 ? 0 : Failure.Kind.FILE.exitCode();
  }

  private Feed open(Workspace workspace, RejectBook book, List<Repair> repairs) {
    Feed feed = workspace.configuration().feed(what);
    book.forEach(
        filter.choice(workspace.configuration(), what, List.of(), Optional.of(RejectState.OPEN)),
        reject -> {
          if (reject.fileState().equals("posted")) {
            repairs.add(Repair.asItIs(reject));
          }
        });
    return feed;
  }

  private Feed read(Screen screen, Workspace workspace, RejectBook book, List<Repair> repairs)
      throws Exception {
    RepairedFile file = new RepairedFile(local(Path.of(what)));
    List<Long> numbers = file.numbers();
    List<StoredReject> known = book.list(RejectChoice.ids(numbers), numbers.size());
    if (known.isEmpty()) {
      throw Failure.file(what + " cannot be mended here")
          .because("there is no reject %d in this ledger".formatted(numbers.get(0)))
          .next("Was it exported from another warehouse?");
    }
    Feed feed = workspace.configuration().feed(mostCommon(known));
    Map<Long, RepairedFile.Line> lines = new LinkedHashMap<>();
    for (RepairedFile.Line line : file.read(feed)) {
      RepairedFile.Line before = line.number() < 0 ? null : lines.get(line.number());
      if (line.number() < 0) {
        tell(screen, line, "has no reject number; it was left out");
      } else if (before != null) {
        tell(
            screen,
            line,
            "has reject %d, which line %d has too; it was left out"
                .formatted(line.number(), before.line()));
      } else {
        lines.put(line.number(), line);
      }
    }
    match(screen, book, feed, lines, repairs);
    return feed;
  }

  /** The feed that most of the rejects are of. */
  private static String mostCommon(List<StoredReject> rejects) {
    Map<String, Long> counts = new TreeMap<>();
    rejects.forEach(reject -> counts.merge(reject.feed(), 1L, Long::sum));
    return Collections.max(counts.entrySet(), Map.Entry.comparingByValue()).getKey();
  }

  private void match(
      Screen screen,
      RejectBook book,
      Feed feed,
      Map<Long, RepairedFile.Line> lines,
      List<Repair> repairs) {
    if (lines.isEmpty()) {
      return;
    }
    Map<Long, StoredReject> known = new HashMap<>();
    book.forEach(
        RejectChoice.ids(List.copyOf(lines.keySet())), reject -> known.put(reject.id(), reject));
    for (RepairedFile.Line line : lines.values()) {
      StoredReject reject = known.get(line.number());
      if (reject == null) {
        tell(
            screen,
            line,
            "has reject %d, which does not exist; it was left out".formatted(line.number()));
      } else if (!reject.feed().equals(feed.name())) {
        tell(
            screen,
            line,
            "has reject %d of feed %s, not of %s; it was left out"
                .formatted(line.number(), reject.feed(), feed.name()));
      } else if (reject.state() != RejectState.OPEN) {
        tell(
            screen,
            line,
            "has reject %d, which was %s by %s; nothing was done with it"
                .formatted(
                    line.number(), reject.state().label(), reject.settledBy().orElse("someone")));
      } else {
        repairs.add(RepairedFile.repair(feed, reject, line));
      }
    }
  }

  /** Rejects of a refused file cannot be mended: the rest of the file is not there either. */
  private static void refuseRefused(List<Repair> repairs) {
    repairs.stream()
        .map(Repair::reject)
        .filter(reject -> !reject.fileState().equals("posted"))
        .findFirst()
        .ifPresent(
            reject -> {
              throw Failure.file(
                      "%s is %s, so its rejects cannot be mended"
                          .formatted(reject.file().path(), reject.fileState()))
                  .because("none of its rows are in the table")
                  .next(
                      "Load it first, with a tolerance that lets the faultless rows in: dusky load %s --tolerance any"
                          .formatted(reject.feed()));
            });
  }

  private void tell(Screen screen, RepairedFile.Line line, String text) {
    wrong++;
    screen.line("  " + screen.style().bad("line " + line.line()) + " " + text);
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "left-out");
    fields.put("line", line.line());
    fields.put("message", text);
    screen.object(fields);
  }

  /** Shows what became of each reject. */
  private final class Listener implements MendListener {

    private static final int MOST = 40;

    private final Screen screen;
    private final Style style;
    private int shown;

    Listener(Screen screen) {
      this.screen = screen;
      this.style = screen.style();
    }

    @Override
    public void mended(StoredReject reject) {
      if (++shown <= MOST) {
        screen.line(
            "  " + style.state("mended") + "      reject " + reject.id() + "  " + reject.where());
      } else if (shown == MOST + 1) {
        screen.line(style.faint("  further mended rejects are not listed"));
      }
      object("mended", reject);
    }

    @Override
    public void wrong(StoredReject reject, List<Problem> problems) {
      wrong++;
      screen.line(
          "  " + style.bad("still wrong") + " reject " + reject.id() + "  " + reject.where());
      for (Problem problem : problems) {
        screen.line(
            "                "
                + (problem.column().isEmpty() ? "" : problem.column() + ": ")
                + TableText.visible(problem.message())
                + style.notable("  " + problem.code().label()));
      }
      object("wrong", reject);
    }

    @Override
    public void settled(StoredReject reject) {
      wrong++;
      screen.line(
          "  "
              + style.bad("left")
              + "        reject "
              + reject.id()
              + " was settled meanwhile, or somebody else holds it");
      object("settled", reject);
    }

    private void object(String event, StoredReject reject) {
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("event", event);
      fields.put("reject", reject.id());
      fields.put("path", reject.file().path());
      fields.put("record", reject.reject().recordNumber());
      screen.object(fields);
    }
  }
}
