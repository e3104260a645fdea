package dev.dusky.bench;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.FixedField;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.load.RowSource;
import dev.dusky.core.load.SequentialRows;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.table.TableName;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;

/** Reading and typing other layouts, each against the bare work of the library that it needs. */
final class FormatsBench {

  private static final List<String> NAMES =
      List.of(
          "docket_no", "farm_code", "collected_at", "litres", "fat", "protein", "remark", "grade");
  private static final int[] WIDTHS = {12, 8, 19, 9, 6, 6, 24, 1};

  private final Path csv;
  private final long rows;

  FormatsBench(Path csv, long rows) {
    this.csv = csv;
    this.rows = rows;
  }

  /** Runs the comparison of one format; each has its own process, as each load mostly has. */
  void run(String format) throws Exception {
    Turns turns = new Turns(3, 9);
    Path file = csv.resolveSibling("dockets." + format);
    Layout delimited = feed().layout();
    try {
      switch (format) {
        case "json" -> {
          toJson(csv, file);
          turns.compare(
              "JSON lines to typed rows",
              () -> typed(file, JsonLayout.plain("json")),
              "Jackson, tokens only",
              () -> tokens(file),
              () -> {});
        }
        case "fixed" -> {
          toFixed(csv, file);
          turns.compare(
              "fixed width to typed rows",
              () -> typed(file, fixed()),
              "the same delimited",
              () -> typed(csv, delimited),
              () -> {});
        }
        case "gzip" -> {
          toGzip(file);
          turns.compare(
              "gzip delimited to typed rows",
              () -> typed(file, delimited),
              "the JDK, inflating only",
              () -> inflate(file),
              () -> {});
        }
        case "parquet" -> {
          ParquetColumns.write(csv, file);
          turns.compare(
              "Parquet to typed rows",
              () ->
                  typed(
                      file,
                      new ColumnarLayout("p", ColumnarLayout.Format.PARQUET, List.of(), 1 << 20)),
              "the Parquet library, columns only",
              () -> check("Parquet", ParquetColumns.read(file)),
              () -> {});
        }
        default -> System.out.println("say one of: json, fixed, gzip, parquet");
      }
    } finally {
      Files.deleteIfExists(file);
    }
  }

  private void check(String what, long count) {
    if (count != rows) {
      throw new IllegalStateException(what + " gave " + count + " rows, not " + rows);
    }
  }

  private static Feed feed() {
    return BenchFeed.of("bench", "dockets.csv", new TableName("bench", "docket"));
  }

  private static FixedLayout fixed() {
    List<FixedField> fields = new java.util.ArrayList<>();
    int start = 1;
    for (int i = 0; i < WIDTHS.length; i++) {
      boolean right = isNumber(i);
      fields.add(
          new FixedField(
              NAMES.get(i),
              start,
              WIDTHS[i],
              right ? FixedField.Alignment.RIGHT : FixedField.Alignment.LEFT,
              ' ',
              ""));
      start += WIDTHS[i];
    }
    return new FixedLayout(
        "fixed",
        fields,
        0,
        Optional.empty(),
        0,
        ShortRecords.REJECT,
        Encoding.UTF_8,
        List.of(""),
        4096);
  }

  /** Writes the rows of a delimited file as JSON lines. */
  static void toJson(Path csv, Path json) throws IOException {
    convert(
        csv,
        json,
        (values, line) -> {
          for (int i = 0; i < values.length; i++) {
            line.append(i == 0 ? "{" : ",").append('"').append(NAMES.get(i)).append("\":");
            line.append(isNumber(i) ? values[i] : '"' + values[i] + '"');
          }
          line.append('}');
        });
  }

  private static void toFixed(Path csv, Path fixed) throws IOException {
    convert(
        csv,
        fixed,
        (values, line) -> {
          for (int i = 0; i < values.length; i++) {
            line.append(("%" + (isNumber(i) ? "" : "-") + WIDTHS[i] + "s").formatted(values[i]));
          }
        });
  }

  private static boolean isNumber(int column) {
    return column == 0 || column >= 3 && column <= 5;
  }

  private static void convert(Path csv, Path to, BiConsumer<String[], StringBuilder> form)
      throws IOException {
    List<String> lines = Files.readAllLines(csv);
    try (BufferedWriter out = Files.newBufferedWriter(to)) {
      for (String line : lines.subList(1, lines.size())) {
        String[] values = line.split(",(?=(?:[^\"]*\"[^\"]*\")*[^\"]*$)");
        for (int i = 0; i < values.length; i++) {
          values[i] = values[i].replace("\"", "");
        }
        StringBuilder record = new StringBuilder();
        form.accept(values, record);
        out.append(record).append('\n');
      }
    }
  }

  private void toGzip(Path gzip) throws IOException {
    try (InputStream in = Files.newInputStream(csv);
        GZIPOutputStream out = new GZIPOutputStream(Files.newOutputStream(gzip), 1 << 16)) {
      in.transferTo(out);
    }
  }

  /** The work of a load before writing: content, reader, binder threads. */
  private void typed(Path file, Layout layout) throws Exception {
    Feed feed = feed().withLayout(layout);
    long count = 0;
    try (FileContent content =
        new FileContent("bench", Files.newInputStream(file), new ContentLimits(1000, 1L << 40))) {
      content.readAhead();
      RecordReader reader =
          Readers.open(SourceFile.of("bench", content), layout, FeedInputs.of(feed).request());
      FieldPlan plan = FieldPlan.of(feed, "bench", reader.names());
      try (RowSource pipeline =
          SequentialRows.of(
              "bench",
              content,
              reader,
              () -> new Binder(feed, plan, new FileFacts(Map.of()), reader.typed()))) {
        for (RowBatch batch = pipeline.next(); batch != null; batch = pipeline.next()) {
          count += batch.count();
          pipeline.recycle(batch);
        }
      }
    }
    check("dusky", count);
  }

  private void tokens(Path file) throws IOException {
    long objects = 0;
    try (JsonParser parser = new JsonFactory().createParser(Files.newInputStream(file))) {
      while (parser.nextToken() != null) {
        objects += parser.currentToken() == com.fasterxml.jackson.core.JsonToken.END_OBJECT ? 1 : 0;
      }
    }
    check("Jackson", objects);
  }

  private void inflate(Path file) throws IOException {
    byte[] buffer = new byte[64 << 10];
    long bytes = 0;
    try (InputStream in = new GZIPInputStream(Files.newInputStream(file), 64 << 10)) {
      for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
        bytes += read;
      }
    }
    if (bytes != Files.size(csv)) {
      throw new IllegalStateException("inflating gave " + bytes + " bytes");
    }
  }
}
