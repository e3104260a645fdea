package dev.dusky.core.load;

import java.util.List;
import java.util.function.Consumer;
import java.util.function.Function;

/** Decides when each file of a load is processed. Results come out in the order of the files. */
interface FileScheduler extends AutoCloseable {

  /** Processes a file, now or later. */
  void add(KnownFile known);

  /** Processes a few small files, for which starting threads does not pay. */
  default void addFew(List<KnownFile> files) {
    files.forEach(this::add);
  }

  /** Processes everything that was added. */
  void finish();

  /** Starts nothing more, waits for what is being committed, and reports what was. */
  @Override
  void close();

  /** One file after the other, on the caller's thread. */
  static FileScheduler sequential(
      Function<KnownFile, FileResult> processing, Consumer<FileResult> results) {
    return new FileScheduler() {
      @Override
      public void add(KnownFile known) {
        results.accept(processing.apply(known));
      }

      @Override
      public void finish() {
        // Each file was processed when it was added.
      }

      @Override
      public void close() {
        // There is nothing to wait for.
      }
    };
  }
}
