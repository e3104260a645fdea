package dev.dusky.core.draft;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.table.SqlNames;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Drafts a feed from some of its files: takes samples, lets the guesses of its kind of content work
 * out layout and columns, then reads the sample with the result and widens what rejects too much.
 */
public final class Drafter {

  /** Of the sampled records a draft rejects no more than one in this number. */
  private static final int REJECTED_ONE_IN = 400;

  private static final int MOST_FILES = 6;
  private static final int MOST_BYTES = 16 << 20;

  /** All samples of a feed together have no more bytes, and take no longer. */
  private static final int ALL_BYTES = 48 << 20;

  /** Enough to find the columns of a layout that is given. */
  private static final int SMALL_BYTES = 768 << 10;

  private static final int LEAST_BYTES = 256 << 10;
  private static final long ALL_NANOS = 2_000_000_000L;

  /** Types of fewer records are drafted widened, since the sample is small. */
  private static final int FEW = 100;

  private static final int WHOLE_BYTES = 64 << 20;

  private final Depot depot;
  private final String schema;
  private final List<FeedColumn> fixed;

  /**
   * A drafter for files of a depot, into tables of a schema.
   *
   * @param fixed columns that are settled already; the rest is left to inference
   */
  public Drafter(Depot depot, String schema, List<FeedColumn> fixed) {
    this.depot = depot;
    this.schema = schema;
    this.fixed = List.copyOf(fixed);
  }

  /**
   * Drafts the feed of a group of files; nested data can give several.
   *
   * @param name the feed's name
   * @param files the group, at least one
   */
  public List<FeedDraft> draft(String name, List<StagedFile> files) throws IOException {
    List<StagedFile> chosen = spread(files);
    List<FileSample> samples = new ArrayList<>();
    long deadline = System.nanoTime() + ALL_NANOS;
    int left = ALL_BYTES;
    for (StagedFile file : chosen) {
      FileSample sample = FileSample.of(depot, file, Math.min(MOST_BYTES, left), deadline);
      samples.add(sample);
      left = Math.max(LEAST_BYTES, left - sample.head().length);
    }
    FileSample first = samples.get(0);
    if (first.head().length == 0) {
      throw Failure.file(first.file().path() + " is empty").hint("There is nothing to draft from");
    }
    ContentKind kind = ContentKind.of(first.head());
    switch (kind) {
      case PARQUET, AVRO, ORC, WORKBOOK -> samples = whole(chosen);
      case ARCHIVE ->
          throw first.file().path().contains("!/")
              ? Failure.file(first.file().path() + " is a zip archive within an archive")
                  .because("archives within archives are not opened")
                  .hint("Unpack it and stage its files")
              : Failure.file(first.file().path() + " is a zip archive")
                  .because("its members are read as files if its name ends with .zip")
                  .hint("Name one of them, such as %s!/MEMBER".formatted(first.file().path()));
      case UNKNOWN ->
          throw Failure.file(first.file().path() + " is of a kind that cannot be drafted")
              .because("it is neither text nor a known binary format")
              .hint("Look at its bytes with {}", Invocation.of("peek", "--raw"));
      default -> {
        // text is drafted from its samples
      }
    }
    List<Evidence> evidence = new ArrayList<>();
    long bytes = samples.stream().mapToLong(s -> s.head().length).sum();
    evidence.add(
        new Evidence(
            "sample",
            "%d of %d files, %,d bytes".formatted(samples.size(), files.size(), bytes),
            "beginning%s of files spread over the list"
                .formatted(
                    samples.stream().anyMatch(s -> !s.pieces().isEmpty())
                        ? ", middle and end"
                        : ""),
            false));
    evidence.add(
        new Evidence(
            "compression", first.compression().label(), "by the first bytes of the file", false));
    FilePattern pattern =
        FilePattern.of(PatternGuess.pattern(files.stream().map(StagedFile::path).toList()));
    boolean part =
        samples.size() < files.size() || samples.stream().anyMatch(sample -> !sample.whole());
    if (files.size() == 1) {
      boolean alike = pattern.toString().contains("*") || !pattern.captureNames().isEmpty();
      evidence.add(
          new Evidence(
              "files",
              pattern.toString(),
              alike
                  ? "from the name of a single file"
                  : "a single file, whose name shows no date or number: check whether others will match",
              true));
    }
    List<TableDraft> tables =
        switch (kind) {
          case JSON -> new JsonDraft(samples).tables(name, evidence);
          case XML -> List.of(new XmlDraft(samples).table(name, evidence));
          case TEXT -> List.of(new TextDraft(samples).table(name, evidence));
          default -> List.of(new SchemaDraft(kind, samples).table(name, evidence));
        };
    List<FeedDraft> drafts = new ArrayList<>();
    for (TableDraft table : tables) {
      drafts.add(settle(table, pattern, samples, part));
    }
    return drafts;
  }

  /**
   * The columns that a file has when it is read with a given layout, as a feed without anything
   * else about it.
   */
  public Feed columnsOf(StagedFile file, Layout layout) throws IOException {
    boolean schema = layout instanceof ColumnarLayout || layout instanceof WorkbookLayout;
    List<FileSample> samples =
        schema ? whole(List.of(file)) : List.of(FileSample.of(depot, file, SMALL_BYTES));
    List<Evidence> none = new ArrayList<>();
    TableDraft table;
    if (layout instanceof ColumnarLayout columnar) {
      ContentKind kind = ContentKind.valueOf(columnar.format().name());
      table = new SchemaDraft(kind, samples).table("draft", none);
    } else if (layout instanceof JsonLayout json) {
      table = new JsonDraft(samples).table("draft", json);
    } else if (layout instanceof XmlLayout xml) {
      table = new XmlDraft(samples).table("draft", none, "/" + String.join("/", xml.records()));
    } else {
      table = TextDraft.table("draft", samples.get(0), layout);
    }
    List<ColumnDraft> columns = new ArrayList<>(table.columns());
    columns.replaceAll(ColumnDraft::nullable);
    return feed(
        new TableDraft("draft", layout, columns, List.of(), none, Optional.empty(), List.of()),
        columns,
        FilePattern.of("**"),
        Tolerance.NONE);
  }

  /** The first, the last, the largest, and some between. */
  private static List<StagedFile> spread(List<StagedFile> files) {
    List<StagedFile> chosen = new ArrayList<>();
    int step = Math.max(1, files.size() / (MOST_FILES - 1));
    for (int i = 0; i < files.size() && chosen.size() < MOST_FILES - 1; i += step) {
      chosen.add(files.get(i));
    }
    files.stream()
        .max(java.util.Comparator.comparingLong(StagedFile::size))
        .filter(largest -> !chosen.contains(largest))
        .ifPresent(chosen::add);
    if (!chosen.contains(files.get(files.size() - 1))) {
      chosen.add(files.get(files.size() - 1));
    }
    return chosen;
  }

  /** Formats with a schema are read as a whole, a single file of moderate size. */
  private List<FileSample> whole(List<StagedFile> files) throws IOException {
    StagedFile file = files.get(0);
    if (file.size() > WHOLE_BYTES) {
      throw Failure.file(file.path() + " is too large to be drafted from")
          .because("%,d bytes; files of its kind are read as a whole".formatted(file.size()))
          .hint("Draft from a smaller file of the same kind");
    }
    return List.of(FileSample.of(depot, file, WHOLE_BYTES));
  }

  private FeedDraft settle(
      TableDraft table, FilePattern pattern, List<FileSample> samples, boolean part)
      throws IOException {
    List<ColumnDraft> columns = new ArrayList<>(table.columns());
    boolean inferred = !(table.layout() instanceof ColumnarLayout);
    addCaptures(columns, pattern, samples.get(0).file().path());
    settleFixed(columns);
    Feed feed = feed(table, columns, pattern, Tolerance.NONE);
    Trial trial = trial(feed, samples);
    long records = trial.read();
    boolean few = inferred && records < FEW;
    if (few || inferred && part) {
      columns.replaceAll(column -> column.generous(few));
      settleFixed(columns);
      feed = feed(table, columns, pattern, Tolerance.NONE);
      trial = trial(feed, samples);
    }
    for (int round = 0; round < 30 && trial.tooMany(); round++) {
      Optional<Map.Entry<String, Map<RejectCode, Integer>>> worst =
          trial.problems().entrySet().stream()
              .filter(e -> !e.getKey().isEmpty())
              .filter(e -> fixed.stream().noneMatch(f -> f.name().equals(e.getKey())))
              .max(
                  java.util.Comparator.comparingInt(
                      e -> e.getValue().values().stream().mapToInt(Integer::intValue).sum()));
      if (worst.isEmpty()) {
        break;
      }
      relax(columns, worst.get(), trial);
      feed = feed(table, columns, pattern, Tolerance.NONE);
      trial = trial(feed, samples);
    }
    List<Evidence> evidence = new ArrayList<>(table.evidence());
    if (!table.leftOut().isEmpty()) {
      evidence.add(
          new Evidence(
              "left out",
              Evidence.some(table.leftOut()),
              table.layout() instanceof JsonLayout
                  ? "in too few records; a column with from: $ and type json keeps whole records"
                  : "it occurs several times in a record",
              true));
    }
    if (few || inferred && part) {
      evidence.add(
          new Evidence(
              "types",
              "widened, since the sample is small",
              few
                  ? "%,d records are weak evidence for later files".formatted(records)
                  : "the sample is a part of the files",
              false));
    }
    if (trial.rejected() > 0) {
      feed = feed(table, columns, pattern, Tolerance.parse("1%").orElseThrow());
      evidence.add(
          new Evidence(
              "tolerance",
              "1%",
              "%,d of %,d sampled records would be rejected: %s"
                  .formatted(trial.rejected(), trial.read(), trial.example()),
              true));
    }
    Map<String, String> notes = new LinkedHashMap<>();
    columns.forEach(c -> notes.put(c.column().name(), c.because()));
    for (ColumnDraft column : columns) {
      if (column.doubtful()) {
        evidence.add(
            new Evidence(
                "column " + column.column().name(),
                column.column().type() + column.column().pattern().map(p -> " " + p).orElse(""),
                column.because(),
                true));
      }
    }
    List<String> keys =
        columns.stream().filter(ColumnDraft::unique).map(c -> c.column().name()).toList();
    return new FeedDraft(
        feed, evidence, notes, keys, table.paths(), samples.size(), trial.read(), trial.rejected());
  }

  /** Puts the settled columns in the place of those of the same name. */
  private void settleFixed(List<ColumnDraft> columns) {
    for (FeedColumn hint : fixed) {
      for (int i = 0; i < columns.size(); i++) {
        FeedColumn drafted = columns.get(i).column();
        if (drafted.name().equals(hint.name())) {
          FeedColumn settled =
              hint.from() instanceof FieldSource.Next ? hint.withFrom(drafted.from()) : hint;
          columns.set(i, new ColumnDraft(settled, "given by --column", false, false));
        }
      }
    }
  }

  private static void addCaptures(List<ColumnDraft> columns, FilePattern pattern, String path) {
    for (String capture : pattern.captureNames()) {
      boolean taken = columns.stream().anyMatch(c -> c.column().name().equals(capture));
      boolean usable = SqlNames.of(List.of(capture)).get(0).equals(capture);
      String name = taken || !usable ? "path_" + capture : capture;
      boolean date = pattern.toString().contains("{" + capture + ":date}");
      String value = pattern.captures(path).get(capture);
      SqlType type =
          date
              ? SqlType.of(TypeKind.DATE)
              : SqlType.of(TypeKind.VARCHAR, ColumnGuess.roomy(value.length()));
      String safe = SqlNames.of(List.of(name)).get(0);
      columns.add(
          new ColumnDraft(
              FeedColumn.plain(safe, type, false).withFrom(new FieldSource.OfFile(capture)),
              "from the path, such as " + value,
              false,
              false));
    }
  }

  private Feed feed(
      TableDraft table, List<ColumnDraft> columns, FilePattern pattern, Tolerance tolerance) {
    return new Feed(
        table.name(),
        depot.name(),
        pattern,
        table.layout(),
        new TableName(schema, table.name()),
        true,
        columns.stream().map(ColumnDraft::column).toList(),
        Optional.empty(),
        table.ignore(),
        FeedPolicies.DEFAULT.withTolerance(tolerance));
  }

  private static void relax(
      List<ColumnDraft> columns, Map.Entry<String, Map<RejectCode, Integer>> worst, Trial trial) {
    for (int i = 0; i < columns.size(); i++) {
      ColumnDraft column = columns.get(i);
      if (column.column().name().equals(worst.getKey())) {
        int nulls = worst.getValue().getOrDefault(RejectCode.NULL_VALUE, 0);
        int all = worst.getValue().values().stream().mapToInt(Integer::intValue).sum();
        columns.set(
            i,
            nulls * 2 >= all
                ? column.nullable()
                : column.relaxed(trial.values().getOrDefault(worst.getKey(), List.of())));
      }
    }
  }

  /** The result of reading the sample with a draft. */
  private record Trial(
      long read,
      long rejected,
      Map<String, Map<RejectCode, Integer>> problems,
      Map<String, List<String>> values,
      String example) {

    boolean tooMany() {
      return rejected * REJECTED_ONE_IN > read;
    }
  }

  private Trial trial(Feed feed, List<FileSample> samples) throws IOException {
    long read = 0;
    long rejected = 0;
    String example = "";
    Map<String, Map<RejectCode, Integer>> problems = new HashMap<>();
    Map<String, List<String>> values = new HashMap<>();
    for (FileSample sample : samples) {
      String path = sample.file().path();
      SourceFile file =
          SourceFile.of(path, new ByteArrayInputStream(TableDraft.readable(feed.layout(), sample)));
      FileFacts facts = FileFacts.of(feed.files(), sample.file(), 0, Instant.EPOCH);
      try (RecordReader reader = Readers.open(file, feed.layout(), FeedInputs.of(feed).request())) {
        Binder binder =
            new Binder(feed, FieldPlan.of(feed, path, reader.names()), facts, reader.typed());
        FieldSplitter splitter = reader.splitter();
        RecordBatch batch = new RecordBatch(256 << 10);
        RowBatch rows = binder.newBatch();
        while (reader.read(batch)) {
          binder.bind(splitter.split(batch), rows);
          read += rows.read();
          rejected += rows.rejected();
          for (Reject reject : rows.rejects()) {
            Problem problem = reject.problems().get(0);
            example =
                example.isEmpty() ? (problem.column() + " " + problem.message()).strip() : example;
            problems
                .computeIfAbsent(problem.column(), c -> new HashMap<>())
                .merge(problem.code(), 1, Integer::sum);
            values.computeIfAbsent(problem.column(), c -> new ArrayList<>()).add(problem.value());
          }
        }
      } catch (Failure cutOff) {
        if (cutOff.kind() != Failure.Kind.FILE || sample.whole()) {
          throw cutOff;
        }
        // a document of which the sample holds the beginning only ends in the middle
      }
    }
    return new Trial(read, rejected, problems, values, example);
  }
}
