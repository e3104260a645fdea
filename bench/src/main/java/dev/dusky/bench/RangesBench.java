package dev.dusky.bench;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.load.RangedRows;
import dev.dusky.core.load.RowPipeline;
import dev.dusky.core.load.RowSource;
import dev.dusky.core.record.DelimitedReader;
import dev.dusky.core.table.TableName;
import dev.dusky.standin.StandIn;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import java.util.function.Supplier;

/** A large file read by ranges against the same read from its beginning on; nothing is written. */
final class RangesBench {

  private final Path file;
  private final long rows;

  RangesBench(Path file, long rows) {
    this.file = file;
    this.rows = rows;
  }

  void run() throws Exception {
    Path buckets = Files.createDirectories(file.resolveSibling("buckets"));
    Files.createDirectories(buckets.resolve("bench"));
    try (Depot depot = BenchDepots.directory(file.getParent())) {
      compare("from a directory", depot);
    }
    try (StandIn store = StandIn.start(buckets, "key", "secret", 0);
        Depot depot = BenchDepots.store(store.endpoint())) {
      depot.put(file.getFileName().toString(), file);
      compare("from the S3 stand-in on this machine", depot);
      store.faults().latency(Duration.ofMillis(30));
      store.faults().pace(80_000_000);
      compare("from the same, each answer 30 ms late and 80 MB/s at most", depot);
    }
  }

  private void compare(String where, Depot depot) throws Exception {
    System.out.println("Reading and typing " + where + ":");
    StagedFile staged = depot.look(file.getFileName().toString()).orElseThrow();
    new Turns(3, 7)
        .compare(
            "by ranges",
            () -> read(depot, staged, true),
            "from its beginning",
            () -> read(depot, staged, false),
            () -> {});
  }

  private void read(Depot depot, StagedFile staged, boolean ranged) throws Exception {
    Feed feed = BenchFeed.of("bench", staged.path(), new TableName("bench", "docket"));
    long count = 0;
    try (FileContent content =
        new FileContent(staged.path(), depot.open(staged), ContentLimits.DEFAULT)) {
      DelimitedReader reader =
          new DelimitedReader(staged.path(), content, (DelimitedLayout) feed.layout());
      FieldPlan plan = FieldPlan.of(feed, staged.path(), reader.names());
      Supplier<Binder> binders = () -> new Binder(feed, plan, new FileFacts(Map.of()), false);
      try (RowSource source =
          ranged
              ? new RangedRows(
                  "bench",
                  reader,
                  staged.size(),
                  (position, length) -> depot.bytes(staged, position, length),
                  content,
                  binders,
                  1)
              : new RowPipeline("bench", reader, binders)) {
        for (RowBatch batch = source.next(); batch != null; batch = source.next()) {
          count += batch.count();
          source.recycle(batch);
        }
      }
    }
    if (count != rows) {
      throw new IllegalStateException("there were " + count + " rows, not " + rows);
    }
  }
}
