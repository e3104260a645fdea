package dev.dusky.lake.read;

import dev.dusky.core.table.Provenance;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.function.Consumer;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.ScanTaskParser;
import org.apache.iceberg.Schema;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.types.Types;

/** The data files of a landing table, in the order in which their first rows landed. */
public final class LandedFiles {

  /** About the bytes of a piece that one machine reads, as they are stored. */
  private static final long PIECE = 32L << 20;

  private LandedFiles() {}

  /** A file, and the postings that its rows may be of. */
  record Landed(FileScanTask task, PostingBounds bounds) {}

  static List<Landed> of(Table table) {
    List<Landed> all = new ArrayList<>();
    try (CloseableIterable<FileScanTask> tasks = table.newScan().includeColumnStats().planFiles()) {
      tasks.forEach(t -> all.add(new Landed(t, PostingBounds.of(table.schema(), t.file()))));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    all.sort(
        Comparator.<Landed>comparingLong(file -> file.bounds().lowLoad())
            .thenComparingLong(file -> file.bounds().lowFile()));
    return all;
  }

  /** These columns behind those of the provenance. */
  static Schema columns(Table table, List<String> names) {
    List<Types.NestedField> fields = new ArrayList<>();
    Provenance.COLUMNS.forEach(name -> fields.add(table.schema().findField(name)));
    names.forEach(name -> fields.add(table.schema().findField(name)));
    return new Schema(fields);
  }

  /** Pieces of the files, each of which can be read elsewhere. */
  public static List<String> pieces(Table table) {
    List<String> pieces = new ArrayList<>();
    for (Landed file : of(table)) {
      file.task().split(PIECE).forEach(piece -> pieces.add(ScanTaskParser.toJson(piece)));
    }
    return pieces;
  }

  /**
   * Gives the rows of a piece that are in force, in the order of its file.
   *
   * @param columns what each row has behind its provenance columns
   */
  public static void read(Table table, String piece, List<String> columns, Consumer<Record> taker) {
    FileScanTask task = ScanTaskParser.fromJson(piece, true);
    try (CloseableIterable<Record> rows = LiveRows.of(table, task, columns(table, columns))) {
      rows.forEach(taker);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
