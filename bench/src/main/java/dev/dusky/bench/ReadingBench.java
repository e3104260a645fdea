package dev.dusky.bench;

import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.load.RowPipeline;
import dev.dusky.core.record.DelimitedReader;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.table.TableName;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;

/** Reading and typing all columns, against FastCSV merely splitting into fields. */
final class ReadingBench {

  private final Path file;
  private final long rows;

  ReadingBench(Path file, long rows) {
    this.file = file;
    this.rows = rows;
  }

  void run() throws Exception {
    System.out.println("Reading and typing, nothing written:");
    Turns turns = new Turns(3, 7);
    turns.compare(
        "dusky (its own threads)",
        this::pipelined,
        "FastCSV, splitting only",
        this::fastCsv,
        () -> {});
    turns.compare(
        "dusky (one thread)", this::oneThread, "FastCSV, splitting only", this::fastCsv, () -> {});
  }

  private void check(String what, long count) {
    if (count != rows) {
      throw new IllegalStateException(what + " gave " + count + " rows, not " + rows);
    }
  }

  private void pipelined() throws Exception {
    Feed feed = BenchFeed.of("bench", "dockets.csv", new TableName("bench", "docket"));
    long count = 0;
    try (InputStream in = Files.newInputStream(file)) {
      DelimitedReader reader =
          new DelimitedReader("dockets.csv", in, (DelimitedLayout) feed.layout());
      FieldPlan plan = FieldPlan.of(feed, "dockets.csv", reader.names());
      try (RowPipeline pipeline =
          new RowPipeline(
              "bench", reader, () -> new Binder(feed, plan, new FileFacts(Map.of()), false))) {
        for (RowBatch batch = pipeline.next(); batch != null; batch = pipeline.next()) {
          count += batch.count();
          pipeline.recycle(batch);
        }
      }
    }
    check("dusky", count);
  }

  private void oneThread() throws Exception {
    Feed feed = BenchFeed.of("bench", "dockets.csv", new TableName("bench", "docket"));
    long count = 0;
    try (InputStream in = Files.newInputStream(file);
        DelimitedReader reader =
            new DelimitedReader("dockets.csv", in, (DelimitedLayout) feed.layout())) {
      Binder binder =
          new Binder(
              feed,
              FieldPlan.of(feed, "dockets.csv", reader.names()),
              new FileFacts(Map.of()),
              false);
      RecordBatch records = new RecordBatch(256 << 10);
      RowBatch batch = binder.newBatch();
      while (reader.read(records)) {
        binder.bind(records, batch);
        count += batch.count();
      }
    }
    check("dusky", count);
  }

  private void fastCsv() throws Exception {
    long count = -1; // the header
    try (CsvReader<CsvRecord> reader =
        CsvReader.builder().ofCsvRecord(file, StandardCharsets.UTF_8)) {
      for (CsvRecord record : reader) {
        count += record.getFieldCount() == 8 ? 1 : 0;
      }
    }
    check("FastCSV", count);
  }
}
