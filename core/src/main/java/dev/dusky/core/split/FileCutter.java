package dev.dusky.core.split;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.load.ColumnTotals;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tally.ControlTotal;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * Finds where a file can be cut: between records, the first one behind each multiple of the wanted
 * size beginning a new part. Records are found by the ordinary reading, so a line end in quotes is
 * none; a record that is at fault stays as it is. A record larger than a part is a part by itself.
 */
public final class FileCutter {

  private static final int BATCH = 256 << 10;

  private final String path;
  private final Path file;
  private final RecordForm form;
  private final long wanted;
  private final Consumer<Cut> taker;
  private int number;
  private long head = -1;
  private long start;
  private long rows;
  private ColumnTotals sums;

  /**
   * A cutter for one file.
   *
   * @param path how messages name it
   * @param file the file, uncompressed
   * @param wanted about how many bytes a part has
   * @param taker takes the cuts in their order
   */
  public FileCutter(String path, Path file, RecordForm form, long wanted, Consumer<Cut> taker) {
    this.path = path;
    this.file = file;
    this.form = form;
    this.wanted = wanted;
    this.taker = taker;
    this.sums = newSums();
  }

  /** Reads the file and gives its parts. */
  public void run() throws IOException {
    form.check(path);
    try (FileContent content = new FileContent(path, Files.newInputStream(file), form.limits());
        RecordReader reader =
            Readers.open(SourceFile.of(path, content), form.layout(), form.request())) {
      if (form.layout() instanceof JsonLayout && reader.ranges().isEmpty()) {
        throw Failure.file(path + " cannot be split")
            .because("it is one JSON document, or not in UTF-8")
            .hint("Only JSON lines are cut. Stage it whole");
      }
      FieldSplitter splitter = reader.splitter();
      Optional<Binder> binder = binder(reader);
      RowBatch bound = binder.map(Binder::newBatch).orElse(null);
      RecordBatch records = new RecordBatch(BATCH);
      while (reader.read(records)) {
        RecordBatch split = splitter.split(records);
        if (binder.isPresent()) {
          binder.get().bind(split, bound);
        }
        take(records, split, bound);
      }
    }
    end(Files.size(file));
  }

  private Optional<Binder> binder(RecordReader reader) {
    if (sums == null) {
      return Optional.empty();
    }
    Feed feed = form.feed().orElseThrow().withLayout(form.layout());
    FieldPlan plan = FieldPlan.of(feed, path, reader.names());
    return Optional.of(new Binder(feed, plan, new FileFacts(Map.of()), reader.typed()));
  }

  /** A batch is counted with the part in which its first record is, so parts end with batches. */
  private void take(RecordBatch records, RecordBatch split, RowBatch bound) {
    long first = records.byteOffset(0);
    if (head < 0) {
      head = first;
      start = first;
    } else if (first - start >= wanted) {
      end(first);
      start = first;
    }
    rows += split.records();
    if (bound != null) {
      sums.add(bound);
    }
  }

  private void end(long end) {
    if (head < 0) {
      return; // no record at all
    }
    taker.accept(new Cut(++number, head, start, end, rows, totals()));
    rows = 0;
    sums = newSums();
  }

  private ColumnTotals newSums() {
    return form.feed()
        .filter(feed -> !feed.policies().expectations().totals().isEmpty())
        .map(ColumnTotals::new)
        .orElse(null);
  }

  private Map<String, BigDecimal> totals() {
    Map<String, BigDecimal> result = new LinkedHashMap<>();
    if (sums != null) {
      for (ControlTotal total : sums.totals(new Refusals(0), List.of())) {
        result.put(total.column(), total.all());
      }
    }
    return result;
  }
}
