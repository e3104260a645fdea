package dev.dusky.core.load;

import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.tables.Refusals;
import java.io.IOException;
import java.util.Iterator;
import java.util.function.Consumer;

/**
 * Fetches the raw bytes of the records whose rows the table refused. By the time the table says so
 * their batches are long reused, so the file is read once more, up to the last of them; most loads
 * have none, and pay nothing.
 */
final class RefusedRecords {

  private RefusedRecords() {}

  /** Opens a reader on the file's content. */
  @FunctionalInterface
  interface Opener {
    RecordReader open(FileContent content) throws IOException;
  }

  /** Gives the refused rows as rejects, in the order of their records. */
  static void read(
      Depot depot,
      StagedFile file,
      dev.dusky.core.bytes.ContentLimits limits,
      Opener opener,
      Refusals refusals,
      Consumer<Reject> taker)
      throws IOException {
    Iterator<Refusals.Refusal> wanted = refusals.kept().iterator();
    if (!wanted.hasNext()) {
      return;
    }
    try (FileContent content = new FileContent(file.path(), depot.open(file), limits);
        RecordReader reader = opener.open(content)) {
      FieldSplitter splitter = reader.splitter();
      RecordBatch batch = new RecordBatch(256 << 10);
      Refusals.Refusal next = wanted.next();
      long before = 0;
      while (next != null && reader.read(batch)) {
        RecordBatch rows = splitter.split(batch);
        while (next != null && next.recordNumber() <= before + rows.records()) {
          taker.accept(reject(rows, (int) (next.recordNumber() - before - 1), next));
          next = wanted.hasNext() ? wanted.next() : null;
        }
        before += rows.records();
      }
    }
  }

  private static Reject reject(RecordBatch rows, int r, Refusals.Refusal refusal) {
    return new Reject(
        refusal.recordNumber(),
        rows.line(r),
        rows.byteOffset(r),
        rows.place(r),
        rows.raw(r),
        rows.rawCut(r),
        rows.piece(r),
        rows.context(r),
        refusal.problems());
  }
}
