package dev.dusky.core.source;

import dev.dusky.core.bytes.Checksums;
import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;

/** Reads one slice of a source and writes its rows into files, reading and writing overlapped. */
final class SliceFiles {

  /**
   * A complete file.
   *
   * @param file where it is
   * @param size its bytes
   * @param sha256 their SHA-256
   * @param rows how many rows it has
   * @param totals the sums of columns
   */
  record Done(Path file, long size, String sha256, long rows, Map<String, BigDecimal> totals) {}

  private static final int BATCHES = 4;

  private final Source source;
  private final List<SourceColumn> columns;
  private final Path folder;
  private final int slice;
  private final Set<String> summed;
  private final Consumer<SourceBatch> seen;
  private final BooleanSupplier stopped;
  private final BlockingQueue<SourceBatch> free = new ArrayBlockingQueue<>(BATCHES);
  private final BlockingQueue<SourceBatch> full = new ArrayBlockingQueue<>(BATCHES + 1);
  private final SourceBatch end;
  private final List<Done> done = new ArrayList<>();
  private volatile Throwable failure;
  private RowFile open;
  private Path path;
  private BatchSums sums;

  /**
   * The files of one slice.
   *
   * @param folder the folder that they are made in
   * @param slice the slice's number
   * @param summed the columns that are added up
   * @param seen takes each batch
   */
  SliceFiles(
      Source source,
      List<SourceColumn> columns,
      Path folder,
      int slice,
      Set<String> summed,
      Consumer<SourceBatch> seen,
      BooleanSupplier stopped) {
    this.source = source;
    this.columns = columns;
    this.folder = folder;
    this.slice = slice;
    this.summed = summed;
    this.seen = seen;
    this.stopped = stopped;
    this.end = new SourceBatch(columns);
    for (int i = 0; i < BATCHES; i++) {
      free.add(new SourceBatch(columns));
    }
  }

  /** Reads all rows; returns the files in the order of the rows. */
  List<Done> run(SourceReader reader) throws IOException, InterruptedException {
    Worker writer = new Worker("dusky-source-" + slice, this::write);
    writer.start();
    try {
      for (SourceBatch batch = free.take(); reader.read(batch); batch = free.take()) {
        if (stopped.getAsBoolean()) {
          throw Failure.of(
                  Failure.Kind.INTERRUPTED, "Reading source " + source.name() + " was stopped")
              .hint("Nothing of it was staged; stage it again");
        }
        full.put(batch);
        if (failure != null) {
          break;
        }
      }
      full.put(end);
    } catch (RuntimeException | InterruptedException e) {
      writer.interrupt();
      throw e;
    } finally {
      writer.join();
      if (open != null) {
        open.close();
      }
    }
    if (failure != null) {
      throw Worker.rethrow(failure);
    }
    return done;
  }

  private void write() {
    try {
      for (SourceBatch batch = full.take(); batch != end; batch = full.take()) {
        write(batch);
        free.put(batch);
      }
      finish();
    } catch (Throwable e) { // whatever it is, it must reach the thread that reads
      failure = e;
      free.offer(end); // so that the reading thread does not wait any longer
    }
  }

  private void write(SourceBatch batch) throws IOException {
    if (open == null) {
      String template = source.as().toString();
      path = folder.resolve("%03d-%06d.rows".formatted(slice, done.size() + 1));
      open = RowFiles.of(template).create(template, path, columns);
      sums = new BatchSums(columns, summed);
    }
    open.write(batch);
    sums.add(batch);
    seen.accept(batch);
    if (open.bytes() >= source.roll()) {
      finish();
    }
  }

  private void finish() throws IOException {
    if (open == null) {
      return;
    }
    RowFile whole = open;
    open = null;
    whole.close();
    try (FileChannel channel = FileChannel.open(path, StandardOpenOption.WRITE)) {
      channel.force(true);
    }
    done.add(new Done(path, Files.size(path), Checksums.sha256(path), sums.rows(), sums.totals()));
  }
}
