package dev.dusky.lake.read;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayDeque;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import java.util.PriorityQueue;
import java.util.function.Consumer;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.Schema;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.io.CloseableIterator;

/**
 * Reads the rows of a landing table in the order in which they landed: by load, file and record.
 * Data files have that order within them, so files whose bounds overlap are merged; a file is open
 * only while its rows are due. The rows of a data file that another engine has written come in the
 * order of that file.
 */
public final class LandedOrder {

  private final Table table;
  private final Schema columns;
  private final Deque<LandedFiles.Landed> waiting = new ArrayDeque<>();
  private final PriorityQueue<Cursor> open =
      new PriorityQueue<>(
          Comparator.<Cursor>comparingLong(c -> c.load)
              .thenComparingLong(c -> c.file)
              .thenComparingLong(c -> c.number));

  private LandedOrder(Table table, List<String> columns) {
    this.table = table;
    this.columns = LandedFiles.columns(table, columns);
  }

  /**
   * Gives all rows that are in force.
   *
   * @param columns what each row has behind its provenance columns
   */
  public static void read(Table table, List<String> columns, Consumer<Record> taker) {
    new LandedOrder(table, columns).run(taker);
  }

  private void run(Consumer<Record> taker) {
    waiting.addAll(LandedFiles.of(table));
    try {
      while (due()) {
        Cursor first = open.remove();
        taker.accept(first.row);
        if (first.advance()) {
          open.add(first);
        }
      }
    } finally {
      open.forEach(Cursor::close);
    }
  }

  /** Opens the files whose rows may be next; whether there is a row. */
  private boolean due() {
    while (!waiting.isEmpty() && (open.isEmpty() || mayPrecede(waiting.peek(), open.peek()))) {
      Cursor cursor = new Cursor(waiting.remove().task());
      if (cursor.advance()) {
        open.add(cursor);
      }
    }
    return !open.isEmpty();
  }

  private static boolean mayPrecede(LandedFiles.Landed file, Cursor next) {
    PostingBounds bounds = file.bounds();
    return bounds.lowLoad() < next.load
        || bounds.lowLoad() == next.load && bounds.lowFile() <= next.file;
  }

  /** An open file at one of its rows. */
  private final class Cursor {
    private final CloseableIterator<Record> rows;
    private Record row;
    private long load;
    private long file;
    private long number;

    Cursor(FileScanTask task) {
      this.rows = LiveRows.of(table, task, columns).iterator();
    }

    boolean advance() {
      if (!rows.hasNext()) {
        close();
        return false;
      }
      row = rows.next();
      load = (long) row.get(0);
      file = (long) row.get(1);
      number = (long) row.get(2);
      return true;
    }

    void close() {
      try {
        rows.close();
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
  }
}
