package dev.dusky.core.source;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.SourceRun;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.BooleanSupplier;
import java.util.stream.Collectors;

/** Reads the rows of a source that are newer than those before, by slices, into local files. */
final class SourceReading {

  private final Source source;
  private final SourceDatabase database;
  private final SourceStager.Plan plan;
  private final SourceListener listener;
  private final BooleanSupplier stopped;
  private final List<SourceColumn> columns;
  private final Optional<HighWater> water;
  private final Optional<String> before;
  private final Optional<String> from;

  SourceReading(
      Source source,
      SourceDatabase database,
      SourceStager.Plan plan,
      Optional<SourceRun> last,
      SourceListener listener,
      BooleanSupplier stopped) {
    this.source = source;
    this.database = database;
    this.plan = plan;
    this.listener = listener;
    this.stopped = stopped;
    this.columns = database.columns();
    checkShape(last);
    this.water = source.newer().map(newer -> water(newer.column()));
    this.before =
        last.filter(run -> run.newer().equals(source.newer().map(Source.Newer::column)))
            .flatMap(SourceRun::highWater);
    this.from =
        plan.all()
            ? Optional.empty()
            : before.flatMap(high -> water.map(w -> w.from(high, source.newer().orElseThrow())));
  }

  private String shape() {
    return columns.stream().map(SourceColumn::toString).collect(Collectors.joining(", "));
  }

  private void checkShape(Optional<SourceRun> last) {
    if (last.isPresent() && !plan.newShape() && !last.get().shape().equals(shape())) {
      throw Failure.file("The query of source " + source.name() + " has other columns than before")
          .because(ShapeChange.between(last.get().shape(), shape()))
          .hint(
              "Nothing was staged. See whether the feeds that load it fit, then stage it once with"
                  + " --new-shape");
    }
  }

  private HighWater water(String column) {
    int index = index(column, "newer");
    if (!HighWater.serves(columns.get(index).type())) {
      throw Failure.configuration(
              "Source %s cannot tell newer rows by %s".formatted(source.name(), column))
          .because("it is of type " + columns.get(index).declared())
          .hint("Name a column of dates, times, or whole or decimal numbers");
    }
    return new HighWater(columns.get(index).type(), index);
  }

  private int index(String column, String key) {
    for (int c = 0; c < columns.size(); c++) {
      if (columns.get(c).name().equalsIgnoreCase(column)) {
        return c;
      }
    }
    throw Failure.configuration(
            "Source %s has no column '%s', which %s names".formatted(source.name(), column, key))
        .because("the query gives " + shape());
  }

  /** From which value on rows are read. */
  Optional<String> from() {
    return from;
  }

  /** The entry of the run, without its files. */
  SourceRun entry(Instant start, String depot, String by, String host) {
    return new SourceRun(
        source.name(),
        depot,
        "",
        source.newer().map(Source.Newer::column),
        water.map(w -> w.after(before.orElse(null), start)),
        shape(),
        "",
        0,
        0,
        0,
        start,
        Instant.now(),
        by,
        host);
  }

  /** Reads all slices; returns their files in the order of the slices. */
  List<SliceFiles.Done> run(Path folder, Instant start) throws IOException {
    List<KeyRange> ranges = ranges();
    AtomicBoolean failed = new AtomicBoolean();
    ExecutorService threads =
        Executors.newFixedThreadPool(ranges.size(), work -> new Thread(work, "dusky-source"));
    List<Future<List<SliceFiles.Done>>> pending = new ArrayList<>();
    try {
      for (int i = 0; i < ranges.size(); i++) {
        int slice = i + 1;
        KeyRange range = ranges.get(i);
        pending.add(
            threads.submit(
                () -> {
                  try (SourceReader reader = database.read(from, range)) {
                    return new SliceFiles(
                            source,
                            columns,
                            folder,
                            slice,
                            plan.summed(),
                            this::seen,
                            () -> failed.get() || stopped.getAsBoolean())
                        .run(reader);
                  } catch (RuntimeException | IOException e) {
                    failed.set(true);
                    throw e;
                  }
                }));
      }
      List<SliceFiles.Done> files = new ArrayList<>();
      for (Future<List<SliceFiles.Done>> slice : pending) {
        files.addAll(await(slice));
      }
      remarks(start);
      return files;
    } finally {
      failed.set(true);
      threads.shutdownNow();
    }
  }

  private List<KeyRange> ranges() {
    if (source.slices().isEmpty()) {
      return List.of(KeyRange.ALL);
    }
    Source.Slices slices = source.slices().get();
    int index = index(slices.by(), "slices");
    if (!columns.get(index).type().kind().isInteger()) {
      throw Failure.configuration(
              "Source %s cannot be sliced by %s".formatted(source.name(), slices.by()))
          .because("it is of type " + columns.get(index).declared())
          .hint("Name a column of whole numbers, best its key");
    }
    return database
        .keys(from)
        .map(keys -> KeyRange.cut(keys[0], keys[1], slices.number()))
        .orElse(List.of(KeyRange.ALL));
  }

  private void seen(SourceBatch batch) {
    water.ifPresent(w -> w.add(batch));
    listener.read(batch.rows());
  }

  private void remarks(Instant start) {
    if (water.isEmpty()) {
      return;
    }
    String column = source.newer().orElseThrow().column();
    if (water.get().none() > 0) {
      listener.remark(
          "%,d rows of source %s have no %s; they are staged only when all rows are read"
              .formatted(water.get().none(), source.name(), column));
    }
    if (water.get().beyond(start)) {
      listener.remark(
          "Source %s has rows whose %s is in the future; they are staged again each time"
              .formatted(source.name(), column));
    }
  }

  private static List<SliceFiles.Done> await(Future<List<SliceFiles.Done>> slice)
      throws IOException {
    try {
      return slice.get();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw Failure.of(Failure.Kind.INTERRUPTED, "Reading a source was stopped")
          .hint("Nothing of it was staged; stage it again");
    } catch (ExecutionException e) {
      if (e.getCause() instanceof RuntimeException cause) {
        throw cause;
      }
      if (e.getCause() instanceof IOException cause) {
        throw cause;
      }
      throw new IllegalStateException("reading a source failed", e.getCause());
    }
  }
}
