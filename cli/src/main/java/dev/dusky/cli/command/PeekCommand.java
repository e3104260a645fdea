package dev.dusky.cli.command;

import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.record.DelimitedReader;
import dev.dusky.core.record.FieldText;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.reject.Reject;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Shows the first records of a file. */
@Command(
    name = "peek",
    description = "Shows the first records of a staged file as the feed's layout reads them.",
    footer = {
      "",
      "Examples:",
      "  dusky peek collections                                  the feed's first file",
      "  dusky peek collections collections/2026-03-02/06.csv.gz -n 20",
      "",
      "Only the beginning of the file is read. Records that a load would reject are marked."
    })
final class PeekCommand extends DuskyCommand {

  @Parameters(index = "0", paramLabel = "FEED", description = "The feed.")
  String feedName;

  @Parameters(
      index = "1",
      arity = "0..1",
      paramLabel = "PATH",
      description = "The file's path in the depot; the feed's first file if not given.")
  String path;

  @Option(
      names = {"-n", "--records"},
      paramLabel = "N",
      description = "How many records; 10 if not given.")
  int most = 10;

  @Option(
      names = "--layout",
      paramLabel = "LAYOUT",
      description = "Read the file with this layout of the configuration instead.")
  String layoutName;

  @Override
  int run(Screen screen) throws IOException {
    if (most < 1 || most > 100_000) {
      throw Failure.usage("--records must be from 1 to 100 000");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      Feed feed = workspace.configuration().feed(feedName);
      Depot depot = workspace.depot(feed);
      StagedFile file = path == null ? first(feed, depot) : named(depot);
      DelimitedLayout layout =
          layoutName == null
              ? (DelimitedLayout) feed.layout()
              : (DelimitedLayout) workspace.configuration().layout(layoutName);
      try (FileContent content = new FileContent(file.path(), depot.open(file), feed.limits());
          DelimitedReader reader = new DelimitedReader(file.path(), content, layout)) {
        RecordBatch batch = new RecordBatch(256 << 10);
        reader.read(batch);
        show(screen, feed, file, content, layout, reader.names(), batch);
      }
    }
    return 0;
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
    return depot
        .look(path)
        .orElseThrow(
            () ->
                Failure.usage("There is no file " + path + " in depot " + depot.name())
                    .next("See what is there with 'dusky files'"));
  }

  private void show(
      Screen screen,
      Feed feed,
      StagedFile file,
      FileContent content,
      DelimitedLayout layout,
      List<String> names,
      RecordBatch batch) {
    int records = Math.min(most, batch.records());
    List<String> columns = names.isEmpty() ? positions(batch, records) : names;
    Map<Long, Reject> rejects = rejects(screen, feed, layout, file, names, batch);
    screen.line(
        screen.style().strong(file.path())
            + screen
                .style()
                .faint(
                    "  layout %s, %s, %d columns"
                        .formatted(
                            layout.name(),
                            content.compression().name().toLowerCase(java.util.Locale.ROOT),
                            columns.size())));
    List<String> types = types(feed, columns, names.isEmpty());
    List<List<String>> rows = new ArrayList<>();
    FieldText text = new FieldText(layout);
    for (int r = 0; r < records; r++) {
      List<String> row = new ArrayList<>();
      for (int f = 0; f < batch.fieldCount(r); f++) {
        text.locate(batch, batch.firstField(r) + f);
        row.add(
            new String(
                text.bytes(), text.start(), text.end() - text.start(), StandardCharsets.UTF_8));
      }
      rows.add(row);
      screen.object(json(columns, row, batch, r, rejects));
    }
    PeekTable.print(screen, columns, types, rows);
    remarks(screen, batch, records, rejects);
  }

  private static void remarks(
      Screen screen, RecordBatch batch, int records, Map<Long, Reject> rejects) {
    Style style = screen.style();
    for (int r = 0; r < records; r++) {
      Reject reject = rejects.get(1L + r);
      if (reject != null) {
        screen.line(
            style.bad(
                    "record %d (line %d) would be rejected"
                        .formatted(reject.recordNumber(), reject.line()))
                + ": "
                + reject.problems().stream()
                    .map(p -> (p.column().isEmpty() ? "" : p.column() + " ") + p.message())
                    .collect(Collectors.joining("; ")));
      }
    }
  }

  private static List<String> positions(RecordBatch batch, int records) {
    int most = 0;
    for (int r = 0; r < records; r++) {
      most = Math.max(most, batch.fieldCount(r));
    }
    List<String> names = new ArrayList<>();
    for (int i = 1; i <= most; i++) {
      names.add("field " + i);
    }
    return names;
  }

  /** The feed's type for each column of the file, or an empty text. */
  private static List<String> types(Feed feed, List<String> columns, boolean byPosition) {
    List<String> types = new ArrayList<>();
    for (int i = 0; i < columns.size(); i++) {
      int position = i;
      types.add(
          feed.columns().stream()
              .filter(c -> fills(c, columns.get(position), position + 1, feed, byPosition))
              .map(c -> c.type() + (c.notNull() ? " not null" : ""))
              .findFirst()
              .orElse(""));
    }
    return types;
  }

  private static boolean fills(
      FeedColumn column, String name, int position, Feed feed, boolean byPosition) {
    if (column.from() instanceof FieldSource.At at) {
      return at.position() == position;
    }
    if (column.from() instanceof FieldSource.Named named) {
      return named.name().equalsIgnoreCase(name);
    }
    return byPosition
        ? feed.columns().indexOf(column) + 1 == position
        : column.name().equalsIgnoreCase(name);
  }

  private static Map<Long, Reject> rejects(
      Screen screen,
      Feed feed,
      DelimitedLayout layout,
      StagedFile file,
      List<String> names,
      RecordBatch batch) {
    Map<Long, Reject> byNumber = new LinkedHashMap<>();
    if (layout != feed.layout()) {
      return byNumber;
    }
    try {
      Binder binder =
          new Binder(
              feed,
              FieldPlan.of(feed, file.path(), names),
              FileFacts.of(feed.files(), file, 0, Instant.now()),
              false);
      RowBatch rows = binder.newBatch();
      binder.bind(batch, rows);
      rows.rejects().forEach(reject -> byNumber.put(reject.recordNumber(), reject));
    } catch (Failure failure) {
      screen.remark(screen.style().notable("a load would refuse it: ") + failure.getMessage());
    }
    return byNumber;
  }

  private static Map<String, Object> json(
      List<String> columns,
      List<String> row,
      RecordBatch batch,
      int record,
      Map<Long, Reject> rejects) {
    Map<String, Object> values = new LinkedHashMap<>();
    for (int i = 0; i < row.size(); i++) {
      values.put(i < columns.size() ? columns.get(i) : "field " + (i + 1), row.get(i));
    }
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("record", 1L + record);
    fields.put("line", batch.line(record));
    fields.put("values", values);
    Reject reject = rejects.get(1L + record);
    if (reject != null) {
      fields.put("problems", reject.problems().stream().map(p -> p.message()).toList());
    }
    return fields;
  }
}
