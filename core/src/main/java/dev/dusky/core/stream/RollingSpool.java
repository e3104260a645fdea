package dev.dusky.core.stream;

import dev.dusky.core.depot.Depot;
import java.io.IOException;
import java.nio.file.Path;

/**
 * A spool with the file that is written to at the moment and the sender of those that are complete.
 * A file is completed when it is large or old enough. Not safe for use by several threads.
 */
final class RollingSpool implements AutoCloseable {

  private final StreamSpool spool;
  private final SpoolSender sender;
  private final RollPolicy roll;
  private final StreamListener listener;
  private SpoolFile current;

  private RollingSpool(
      StreamSpool spool, SpoolSender sender, RollPolicy roll, StreamListener listener) {
    this.spool = spool;
    this.sender = sender;
    this.roll = roll;
    this.listener = listener;
  }

  /** Opens the folder, hands over what a killed process left, and begins a file. */
  static RollingSpool open(
      Path folder, StreamName name, RollPolicy roll, Depot depot, StreamListener listener)
      throws IOException, InterruptedException {
    StreamSpool spool = StreamSpool.open(folder, name);
    RollingSpool rolling =
        new RollingSpool(
            spool, new SpoolSender(spool, depot, name.compression(), listener), roll, listener);
    try {
      for (StreamSpool.Ready file : spool.ready()) {
        rolling.sender.add(file);
      }
      for (SpoolFile left : spool.left()) {
        rolling.complete(left, true);
      }
      rolling.current = spool.create();
      return rolling;
    } catch (IOException | InterruptedException | RuntimeException e) {
      rolling.close();
      throw e;
    }
  }

  /** The file that is written to. */
  SpoolFile current() {
    return current;
  }

  SpoolSender sender() {
    return sender;
  }

  /**
   * Completes the file if it is due; the beginning of a record that is not whole goes into the next
   * one.
   *
   * @return whether it was due
   */
  boolean rollIfDue() throws IOException, InterruptedException {
    boolean due =
        current.records() > 0
            && (current.whole() >= roll.bytes()
                || System.nanoTime() - current.firstNanos() >= roll.age().toNanos());
    if (!due) {
      return false;
    }
    SpoolFile done = current;
    current = spool.create();
    if (done.rest() > 0) {
      done.moveRest(current);
    }
    sender.add(spool.complete(done));
    return true;
  }

  /**
   * Completes the last file and sends all.
   *
   * @param whole whether what is behind the last line end is a record too
   */
  void finish(boolean whole) throws IOException, InterruptedException {
    if (whole) {
      current.endRecord();
    }
    complete(current, false);
    sender.finish();
  }

  /** Completes a file that gets no more; a record that is not whole is kept aside. */
  private void complete(SpoolFile file, boolean killed) throws IOException, InterruptedException {
    if (file.rest() > 0) {
      long rest = file.rest();
      Path cut = spool.keepCut(file);
      listener.remark(
          "The stream %s within a record: its %,d bytes are in %s and in no file"
              .formatted(killed ? "was killed" : "was stopped", rest, cut));
    }
    if (file.records() == 0) {
      spool.forget(file);
      return;
    }
    sender.add(spool.complete(file));
  }

  @Override
  public void close() throws IOException {
    sender.close();
    spool.close();
  }
}
