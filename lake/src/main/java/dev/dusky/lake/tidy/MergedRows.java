package dev.dusky.lake.tidy;

import dev.dusky.lake.read.LiveRows;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.PriorityQueue;
import java.util.function.Consumer;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.SortOrderComparators;
import org.apache.iceberg.StructLike;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.InternalRecordWrapper;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.io.CloseableIterator;

/** The rows of several data files, each sorted as its table says, in that order. */
final class MergedRows {

  /** The maximum number of files that are open together. */
  static final int MOST = 16;

  /** What the open files may hold in memory, at a row group each. */
  private static final long MOST_BYTES = Runtime.getRuntime().maxMemory() / 6;

  private final Table table;
  private final Comparator<StructLike> order;
  private final InternalRecordWrapper form;

  MergedRows(Table table) {
    this.table = table;
    this.order = SortOrderComparators.forSchema(table.schema(), table.sortOrder());
    this.form = new InternalRecordWrapper(table.schema().asStruct());
  }

  /** Whether all those files are sorted as the table says. */
  static boolean possible(Table table, List<FileScanTask> files) {
    int order = table.sortOrder().orderId();
    return table.sortOrder().isSorted()
        && files.stream()
            .allMatch(
                task -> task.file().sortOrderId() != null && task.file().sortOrderId() == order);
  }

  /** Divides files into as few groups as can be merged at once. */
  static List<List<FileScanTask>> groups(List<FileScanTask> files) {
    List<List<FileScanTask>> groups = new ArrayList<>();
    long bytes = 0;
    for (FileScanTask task : files) {
      bytes += task.file().fileSizeInBytes();
      List<FileScanTask> last = groups.isEmpty() ? List.of() : groups.get(groups.size() - 1);
      if (last.isEmpty() || last.size() == MOST || last.size() > 1 && bytes > MOST_BYTES) {
        groups.add(new ArrayList<>());
        bytes = task.file().fileSizeInBytes();
      }
      groups.get(groups.size() - 1).add(task);
    }
    return groups;
  }

  /** Gives the rows in force of those files. */
  void each(List<FileScanTask> files, Consumer<Record> taker) {
    PriorityQueue<Source> sources = new PriorityQueue<>();
    List<Source> opened = new ArrayList<>();
    try {
      for (FileScanTask task : files) {
        Source source = new Source(opened.size(), LiveRows.of(table, task, table.schema()));
        opened.add(source);
        if (source.advance()) {
          sources.add(source);
        }
      }
      while (!sources.isEmpty()) {
        Source first = sources.remove();
        taker.accept(first.row);
        if (first.advance()) {
          sources.add(first);
        }
      }
    } finally {
      opened.forEach(Source::close);
    }
  }

  /** A file with the row that is its next. */
  private final class Source implements Comparable<Source> {

    private final int number;
    private final CloseableIterable<Record> rows;
    private final CloseableIterator<Record> left;
    private final InternalRecordWrapper key = form.copyFor(null);
    private Record row;

    Source(int number, CloseableIterable<Record> rows) {
      this.number = number;
      this.rows = rows;
      this.left = rows.iterator();
    }

    boolean advance() {
      if (!left.hasNext()) {
        return false;
      }
      row = left.next();
      key.wrap(row);
      return true;
    }

    /** Equal rows come in the order of their files. */
    @Override
    public int compareTo(Source other) {
      int compared = order.compare(key, other.key);
      return compared != 0 ? compared : Integer.compare(number, other.number);
    }

    void close() {
      try (rows) {
        left.close();
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
  }
}
