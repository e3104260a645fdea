package dev.dusky.core.stream;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.nio.file.Path;

/**
 * Takes records from several threads and answers for them once they are durable on local disk. One
 * wait for the disk serves all who came meanwhile. What was answered for is staged once, whatever
 * is killed when.
 */
public final class StreamIntake implements AutoCloseable {

  private final RollingSpool spool;
  private final Path folder;
  private final Object writing = new Object();
  private final Object forcing = new Object();
  private long written;
  private volatile long durable;

  /**
   * Opens the spool.
   *
   * @param folder the spool
   */
  public StreamIntake(
      Depot depot, Path folder, StreamName name, RollPolicy roll, StreamListener listener) {
    this.folder = folder;
    try {
      this.spool = RollingSpool.open(folder, name, roll, depot, listener);
    } catch (IOException e) {
      throw failure(e);
    } catch (InterruptedException e) {
      throw interrupted();
    }
  }

  private Failure failure(IOException e) {
    return StreamSpool.failure(folder, e);
  }

  private static Failure interrupted() {
    Thread.currentThread().interrupt();
    return Failure.of(Failure.Kind.INTERRUPTED, "The intake was stopped")
        .hint("Records that were not answered for must be sent again");
  }

  /** Whether so much waits for the depot that no more should be taken. */
  public boolean full() {
    return spool.sender().full();
  }

  /**
   * Keeps records; when this returns, they are durable.
   *
   * @param lines whole lines, followed by eight more bytes
   */
  public void keep(byte[] lines, int length) throws IOException {
    long mine;
    synchronized (writing) {
      spool.sender().check();
      long before = spool.current().size();
      try {
        spool.current().append(lines, 0, length);
      } catch (IOException e) {
        spool.current().takeBack(before); // a full disk must not leave half a record
        throw e;
      }
      mine = ++written;
    }
    synchronized (forcing) {
      if (durable >= mine) {
        return;
      }
      long all;
      SpoolFile file;
      synchronized (writing) {
        all = written;
        file = spool.current();
      }
      file.force(); // while others write
      durable = all;
    }
  }

  /** Completes the file if it is due; to be called from time to time. */
  public void tick() {
    if (full()) {
      return; // to hand over one more file would wait
    }
    synchronized (forcing) {
      synchronized (writing) {
        roll();
      }
    }
  }

  private void roll() {
    try {
      if (spool.rollIfDue()) {
        durable = written; // a completed file is durable, and the new one is empty
      }
    } catch (IOException e) {
      throw failure(e);
    } catch (InterruptedException e) {
      throw interrupted();
    }
  }

  /** Completes the last file and sends all. */
  public StreamStager.Result finish() {
    synchronized (forcing) {
      synchronized (writing) {
        return finishSpool();
      }
    }
  }

  private StreamStager.Result finishSpool() {
    try {
      spool.finish(false);
      return new StreamStager.Result(spool.sender().files(), spool.sender().records(), 0);
    } catch (IOException e) {
      throw failure(e);
    } catch (InterruptedException e) {
      throw interrupted();
    }
  }

  @Override
  public void close() {
    try {
      spool.close();
    } catch (IOException e) {
      throw failure(e);
    }
  }
}
