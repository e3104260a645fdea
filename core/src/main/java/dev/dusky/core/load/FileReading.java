package dev.dusky.core.load;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.Compression;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.record.TrailerReader;
import java.io.IOException;
import java.util.function.Supplier;

/** Opens a file and gives its rows, typed, in the order of the file. */
final class FileReading {

  /** The minimum size of files that are read by ranges, in bytes. */
  private static final long LEAST_RANGED = 4L * RangedRows.RANGE;

  private final FileTask task;
  private final StagedFile file;
  private final ControlTotals controls;

  FileReading(FileTask task, ControlTotals controls) {
    this.task = task;
    this.file = task.file();
    this.controls = controls;
  }

  /** The file's bytes, decompressed. */
  FileContent content(Feed feed) throws IOException {
    return new FileContent(file.path(), controls.open(), feed.limits());
  }

  /** The file's records. */
  RecordReader open(FileContent content, Feed feed) throws IOException {
    RecordReader reader =
        Readers.open(
            SourceFile.of(file.path(), content), feed.layout(), FeedInputs.of(feed).request());
    return TrailerReader.around(
        file.path(), reader, feed.layout(), feed.policies().expectations().trailer());
  }

  /** Where the feed's columns find their fields; closes the reader if they do not. */
  FieldPlan plan(RecordReader reader, Feed feed) throws IOException {
    try {
      checkFacts(feed);
      return FieldPlan.of(feed, file.path(), reader.names());
    } catch (Failure failure) {
      reader.close();
      throw failure;
    }
  }

  /** A column that comes from the path must find its value there. */
  private void checkFacts(Feed feed) {
    for (FeedColumn column : feed.columns()) {
      if (column.from() instanceof FieldSource.OfFile of
          && !of.fact().equals(FileFacts.RECORD_NUMBER)
          && task.facts().get(of.fact()).isEmpty()) {
        throw Failure.file("%s has no %s in its path".formatted(file.path(), of))
            .because("column %s of feed %s comes from there".formatted(column.name(), feed.name()))
            .hint("Capture it in the feed's files pattern, or check how the file was staged");
      }
    }
  }

  /** The file's rows; the source closes the reader. */
  RowSource rows(FileContent content, RecordReader reader, Feed feed, FieldPlan plan) {
    Supplier<Binder> binders = () -> new Binder(feed, plan, task.facts(), reader.typed()).hashing();
    if (task.inline().isPresent()) {
      return new InlineRows(file.path(), reader, binders.get(), task.inline().get());
    }
    boolean ranged =
        file.size() >= LEAST_RANGED
            && content.compression() == Compression.PLAIN
            && task.run().depot().seekable(file)
            && !controls.digests();
    return ranged && reader.ranges().isPresent()
        ? new RangedRows(
            file.path(), reader, file.size(), this::range, content, binders, task.beside().atOnce())
        : SequentialRows.of(file.path(), content, reader, binders);
  }

  private byte[] range(long position, int length) throws IOException {
    return position >= file.size() ? new byte[0] : task.run().depot().bytes(file, position, length);
  }

  /** The next batch of rows, unless the load is to stop. */
  RowBatch next(RowSource rows) throws IOException {
    if (task.run().stopped().getAsBoolean() || task.beside().order().lost()) {
      throw interrupted();
    }
    try {
      return rows.next();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw interrupted();
    }
  }

  /** Waits until the outcome may be committed. */
  void awaitOrder() {
    try {
      task.beside().order().await();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw interrupted();
    }
  }

  private Failure interrupted() {
    return Failure.of(Failure.Kind.INTERRUPTED, "Stopped while loading " + file.path())
        .hint("This file was rolled back; load again to continue");
  }

  /** Reads what is left behind the last record, so that fingerprint and checks cover all of it. */
  static void drain(FileContent content) throws IOException {
    byte[] rest = new byte[8192];
    while (content.read(rest, 0, rest.length) >= 0) {
      continue;
    }
  }

  /** The failure of a depot that does not give the file's bytes. */
  Failure unreadable(IOException e) {
    return Failure.depot(
            "Reading " + file.path() + " from depot " + task.run().depot().name() + " failed")
        .because(String.valueOf(e.getMessage()))
        .hint("Nothing of the file was loaded. Load again once the depot answers")
        .from(e);
  }
}
