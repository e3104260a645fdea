package dev.dusky.bench;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.table.TableName;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OperationsPerInvocation;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/**
 * The inner loops of reading, each alone on one thread, in nanoseconds a row. With the profiler of
 * allocations the second figure is bytes of garbage a row.
 */
@State(Scope.Thread)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.NANOSECONDS)
@OperationsPerInvocation(InnerLoops.ROWS)
@Warmup(iterations = 4, time = 1)
@Measurement(iterations = 6, time = 1)
@Fork(2)
public class InnerLoops {

  static final int ROWS = 50_000;

  private final Feed feed = BenchFeed.of("bench", "dockets.csv", new TableName("bench", "docket"));
  private final JsonLayout json = JsonLayout.plain("json");
  private byte[] delimitedFile;
  private byte[] jsonFile;
  private List<RecordBatch> delimited;
  private List<RecordBatch> members;
  private Binder delimitedBinder;
  private Binder jsonBinder;
  private Binder hashing;
  private RowBatch delimitedRows;
  private RowBatch jsonRows;
  private RowBatch hashedRows;

  /** Makes the files and splits them once. */
  @Setup
  public void setUp() throws IOException {
    Path file = Files.createTempFile("dusky-bench-", ".csv");
    try {
      delimitedFile = Files.readAllBytes(BenchData.write(file, ROWS));
      FormatsBench.toJson(file, file);
      jsonFile = Files.readAllBytes(file);
    } finally {
      Files.deleteIfExists(file);
    }
    delimited = split(delimitedFile, feed.layout());
    members = split(jsonFile, json);
    delimitedBinder = binder(delimitedFile, feed.layout());
    hashing = binder(delimitedFile, feed.layout()).hashing();
    jsonBinder = binder(jsonFile, json);
    delimitedRows = delimitedBinder.newBatch();
    hashedRows = hashing.newBatch();
    jsonRows = jsonBinder.newBatch();
  }

  /** Delimited text into records and fields. */
  @Benchmark
  public int splitDelimited() throws IOException {
    return scan(delimitedFile, feed.layout(), new RecordBatch(256 << 10));
  }

  /** JSON lines into records and members. */
  @Benchmark
  public int splitJson() throws IOException {
    return scan(jsonFile, json, new RecordBatch(256 << 10));
  }

  /** Fields of delimited text into typed columns. */
  @Benchmark
  public int typeDelimited() {
    return type(delimitedBinder, delimited, delimitedRows);
  }

  /** The same with the hash of each row. */
  @Benchmark
  public int typeAndHash() {
    return type(hashing, delimited, hashedRows);
  }

  /** Members of JSON into typed columns. */
  @Benchmark
  public int typeJson() {
    return type(jsonBinder, members, jsonRows);
  }

  private static int type(Binder binder, List<RecordBatch> batches, RowBatch rows) {
    int count = 0;
    for (RecordBatch batch : batches) {
      binder.bind(batch, rows);
      count += rows.count();
    }
    return check(count);
  }

  private int scan(byte[] file, Layout layout, RecordBatch batch) throws IOException {
    int count = 0;
    try (RecordReader reader = open(file, layout)) {
      FieldSplitter splitter = reader.splitter();
      while (reader.read(batch)) {
        count += splitter.split(batch).records();
      }
    }
    return check(count);
  }

  private static int check(int count) {
    if (count != ROWS) {
      throw new IllegalStateException(count + " rows, not " + ROWS);
    }
    return count;
  }

  private List<RecordBatch> split(byte[] file, Layout layout) throws IOException {
    List<RecordBatch> result = new ArrayList<>();
    try (RecordReader reader = open(file, layout)) {
      RecordBatch batch = new RecordBatch(256 << 10);
      while (reader.read(batch)) {
        result.add(reader.splitter().split(batch));
        batch = new RecordBatch(256 << 10);
      }
    }
    return result;
  }

  private Binder binder(byte[] file, Layout layout) throws IOException {
    Feed as = feed.withLayout(layout);
    try (RecordReader reader = open(file, layout)) {
      FieldPlan plan = FieldPlan.of(as, "bench", reader.names());
      return new Binder(as, plan, new FileFacts(Map.of()), reader.typed());
    }
  }

  private RecordReader open(byte[] file, Layout layout) throws IOException {
    FileContent content =
        new FileContent("bench", new ByteArrayInputStream(file), new ContentLimits(1000, 1L << 40));
    return Readers.open(
        SourceFile.of("bench", content), layout, FeedInputs.of(feed.withLayout(layout)).request());
  }
}
