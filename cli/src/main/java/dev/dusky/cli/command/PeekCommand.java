package dev.dusky.cli.command;

import dev.dusky.cli.config.LayoutOptions;
import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.draft.Drafter;
import dev.dusky.core.expression.ExpressionFault;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.layout.FieldNaming;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.preview.Preview;
import dev.dusky.core.preview.PreviewMode;
import dev.dusky.core.preview.PreviewRecord;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Shows records of a file. */
@Command(
    name = "peek",
    description = {
      "Shows records of a staged file as a layout reads them, with types.",
      "",
      "With a feed its layout and columns are used; a file alone (DEPOT:PATH) is",
      "looked at first and read as it seems to want to be read. Any layout option can",
      "be tried with --with. Records that a load would reject are marked. No more is",
      "read than is needed."
    },
    footer = {
      "",
      "Examples:",
      "  dusky peek collections             the feed's first file",
      "  dusky peek yard:farms/registry-2026-03-01.txt --with 'delimiter=|'",
      "  dusky peek collections --where 'litres > 9000' --columns docket_no,litres",
      "  dusky peek collections --count",
      "  dusky peek yard:tankers/fleet-2026-03-01.txt --raw"
    })
final class PeekCommand extends DuskyCommand {

  private static final int MOST = 100_000;

  @Parameters(index = "0", paramLabel = "FEED|DEPOT:PATH", description = "A feed, or a file.")
  String target;

  @Parameters(
      index = "1",
      arity = "0..1",
      paramLabel = "PATH",
      description = "The feed's file to look at; its first one if not given.")
  String path;

  @Option(
      names = {"-n", "--records"},
      paramLabel = "N",
      description = "How many records; 10 if not given.")
  int most = 10;

  @Option(names = "--last", description = "The last records instead of the first.")
  boolean last;

  @Option(names = "--random", description = "Records at random from all of the file.")
  boolean random;

  @Option(
      names = "--seed",
      paramLabel = "SEED",
      description = "Makes --random choose the same records each time.")
  long seed = System.nanoTime();

  @Option(
      names = "--layout",
      paramLabel = "LAYOUT",
      description = "Read the file with this layout of the configuration instead.")
  String layoutName;

  @Option(
      names = "--with",
      paramLabel = "KEY=VALUE",
      description = "Set a key of the layout, such as delimiter=; or header=false; repeatable.")
  List<String> with = new ArrayList<>();

  @Option(
      names = "--where",
      paramLabel = "CONDITION",
      description = "Only records for which this SQL condition holds.")
  String where;

  @Option(
      names = "--columns",
      paramLabel = "NAMES",
      description = "Only these columns, in this order, separated by commas.")
  String columns;

  @Option(names = "--count", description = "Count the records of the whole file instead.")
  boolean count;

  @Option(
      names = "--raw",
      description = "Show the file's bytes, line ends and invisible characters made visible.")
  boolean raw;

  @Override
  int run(Screen screen) throws IOException {
    if (most < 1 || most > MOST) {
      throw Failure.usage("--records must be from 1 to 100 000");
    }
    if (last && random) {
      throw Failure.usage("--last and --random exclude each other");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      Optional<Feed> feed = feed(workspace);
      Depot depot =
          feed.map(workspace::depot)
              .orElseGet(
                  () ->
                      new ArchiveDepot(
                          workspace.depot(target.substring(0, target.indexOf(':'))),
                          ContentLimits.DEFAULT));
      StagedFile file = feed.isPresent() && path == null ? first(feed.get(), depot) : named(depot);
      if (raw) {
        raw(screen, depot, file);
      } else {
        look(screen, workspace, feed, depot, file);
      }
    }
    return 0;
  }

  private Optional<Feed> feed(Workspace workspace) {
    return target.contains(":")
        ? Optional.empty()
        : Optional.of(workspace.configuration().feed(target));
  }

  private StagedFile first(Feed feed, Depot depot) {
    Iterator<StagedFile> files = depot.list(feed.files().prefix());
    while (files.hasNext()) {
      StagedFile file = files.next();
      if (feed.files().matches(file.path())) {
        return file;
      }
    }
    throw Failure.usage("Feed " + feed.name() + " has no files yet")
        .because("nothing in depot " + depot.name() + " fits " + feed.files())
        .next("Stage some with 'dusky stage'");
  }

  private StagedFile named(Depot depot) {
    String wanted = path != null ? path : target.substring(target.indexOf(':') + 1);
    return depot
        .look(wanted)
        .orElseThrow(
            () ->
                Failure.usage("There is no file " + wanted + " in depot " + depot.name())
                    .next("See what is there with 'dusky files'"));
  }

  private void raw(Screen screen, Depot depot, StagedFile file) throws IOException {
    try (FileContent content =
        new FileContent(file.path(), depot.open(file), ContentLimits.DEFAULT)) {
      head(screen, file, content.compression().label(), "raw");
      new RawView(screen).show(content, most);
    }
  }

  private void look(
      Screen screen, Workspace workspace, Optional<Feed> declared, Depot depot, StagedFile file)
      throws IOException {
    Feed feed = feed(workspace, declared, depot, file);
    feed = feed.withWhere(condition(feed));
    PreviewMode mode =
        count
            ? PreviewMode.COUNT
            : random ? PreviewMode.RANDOM : last ? PreviewMode.LAST : PreviewMode.FIRST;
    Preview look = Preview.at(depot, file, feed, mode, most, seed);
    head(screen, file, look.compression().label(), described(feed.layout(), declared.isPresent()));
    if (mode == PreviewMode.COUNT) {
      count(screen, look);
      return;
    }
    int[] chosen = chosen(look.columns());
    List<String> names = pick(look.columns(), chosen);
    List<String> types =
        pick(look.types(), chosen).stream().map(type -> type.replace(" not null", "")).toList();
    List<List<String>> rows = new ArrayList<>();
    List<String> numbers = new ArrayList<>();
    for (PreviewRecord record : look.records()) {
      rows.add(pick(record.values(), chosen));
      numbers.add(record.number() > 0 ? Figures.count(record.number()) : "");
      screen.object(json(record, names, pick(record.values(), chosen)));
    }
    new PeekTable(screen).print(names, types, numbers, rows);
    remarks(screen, look);
  }

  /** The feed to read with: the declared one, or the columns that the layout finds in the file. */
  private Feed feed(Workspace workspace, Optional<Feed> declared, Depot depot, StagedFile file)
      throws IOException {
    Drafter drafter = new Drafter(depot, "draft", List.of());
    if (layoutName == null && with.isEmpty()) {
      return declared.isPresent()
          ? declared.get()
          : drafter.draft("draft", List.of(file)).get(0).feed();
    }
    Layout base =
        layoutName != null
            ? workspace.configuration().layout(layoutName)
            : declared.isPresent()
                ? declared.get().layout()
                : with.stream().anyMatch(option -> option.startsWith("kind="))
                    ? dev.dusky.core.layout.DelimitedLayout.plain("given")
                    : drafter.draft("draft", List.of(file)).get(0).feed().layout();
    return drafter.columnsOf(file, LayoutOptions.with(base, with));
  }

  private Optional<Formula> condition(Feed feed) {
    if (where == null) {
      return feed.where();
    }
    try {
      Formula formula = Formula.of(where);
      for (String name : formula.names()) {
        boolean known =
            feed.columns().stream().anyMatch(c -> c.name().equals(name))
                || feed.ignore().contains(name)
                || feed.layout().naming() == FieldNaming.PATH && !name.matches("\\w+")
                || name.startsWith("field_");
        if (!known) {
          throw new ExpressionFault(
              Math.max(0, where.indexOf(name)),
              "there is no column '%s'; there are %s"
                  .formatted(
                      name,
                      String.join(", ", feed.columns().stream().map(FeedColumn::name).toList())));
        }
      }
      dev.dusky.core.bind.FeedInputs.of(feed.withWhere(Optional.of(formula)))
          .check(formula, null, true);
      return Optional.of(formula);
    } catch (ExpressionFault fault) {
      throw Failure.usage("--where cannot be followed")
          .because(
              "at character %d, %s\n      %s\n      %s^"
                  .formatted(fault.at() + 1, fault.getMessage(), where, " ".repeat(fault.at())));
    }
  }

  private int[] chosen(List<String> names) {
    if (columns == null) {
      int[] all = new int[names.size()];
      Arrays.setAll(all, i -> i);
      return all;
    }
    return Arrays.stream(columns.split(","))
        .map(String::strip)
        .mapToInt(
            wanted -> {
              for (int i = 0; i < names.size(); i++) {
                if (names.get(i).equalsIgnoreCase(wanted)) {
                  return i;
                }
              }
              throw Failure.usage("There is no column '" + wanted + "'")
                  .because("the file has " + String.join(", ", names));
            })
        .toArray();
  }

  private static List<String> pick(List<String> all, int[] chosen) {
    return Arrays.stream(chosen).mapToObj(i -> i < all.size() ? all.get(i) : null).toList();
  }

  private static String described(Layout layout, boolean declared) {
    return declared ? "layout " + layout.name() : "read as " + layout.kind();
  }

  private static void head(Screen screen, StagedFile file, String compression, String layout) {
    Style style = screen.style();
    screen.line(
        style.strong(file.path())
            + style.faint(
                "  %s, %s%s"
                    .formatted(
                        layout,
                        Figures.bytes(file.size()),
                        compression.equals("none") ? "" : ", " + compression)));
  }

  private static void count(Screen screen, Preview look) {
    screen.line(
        "%s: %s would be loaded, %s rejected%s"
            .formatted(
                Figures.plural(look.read(), "record"),
                Figures.count(look.read() - look.rejected() - look.filtered()),
                Figures.count(look.rejected()),
                look.filtered() == 0
                    ? ""
                    : ", " + Figures.count(look.filtered()) + " left out by the condition"));
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("read", look.read());
    fields.put("rejected", look.rejected());
    fields.put("filtered", look.filtered());
    screen.object(fields);
  }

  private static void remarks(Screen screen, Preview look) {
    Style style = screen.style();
    look.refusal().ifPresent(why -> screen.remark(style.notable("a load would refuse it: ") + why));
    for (PreviewRecord record : look.records()) {
      if (!record.problems().isEmpty()) {
        screen.line(
            style.bad("record %d (%s) would be rejected".formatted(record.number(), record.place()))
                + ": "
                + String.join("; ", record.problems()));
      }
    }
  }

  private static Map<String, Object> json(
      PreviewRecord record, List<String> names, List<String> values) {
    Map<String, Object> shown = new LinkedHashMap<>();
    for (int i = 0; i < names.size(); i++) {
      shown.put(names.get(i), values.get(i));
    }
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("record", record.number());
    fields.put("place", record.place());
    fields.put("values", shown);
    if (!record.problems().isEmpty()) {
      fields.put("problems", record.problems());
    }
    return fields;
  }
}
