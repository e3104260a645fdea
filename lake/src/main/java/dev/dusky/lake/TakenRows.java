package dev.dusky.lake;

import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.ProvenanceKey;
import dev.dusky.lake.read.LiveRows;
import dev.dusky.lake.read.PostingBounds;
import dev.dusky.lake.read.PostingSet;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.UUID;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.MetadataColumns;
import org.apache.iceberg.MetricsConfig;
import org.apache.iceberg.PartitionSpec;
import org.apache.iceberg.RowDelta;
import org.apache.iceberg.Schema;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.deletes.PositionDelete;
import org.apache.iceberg.deletes.PositionDeleteWriter;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.parquet.Parquet;
import org.roaringbitmap.longlong.Roaring64NavigableMap;

/**
 * Takes the rows of postings out of a table, in one commit. Data files that have no other rows are
 * dropped by metadata alone; in a shared data file the rows are named by their positions.
 */
final class TakenRows {

  private final Table table;
  private final PostingSet postings;
  private final Schema columns;

  TakenRows(Table table, Collection<ProvenanceKey> postings) {
    this.table = table;
    this.postings = new PostingSet(postings);
    this.columns =
        new Schema(
            table.schema().findField(Provenance.LOAD),
            table.schema().findField(Provenance.FILE),
            MetadataColumns.ROW_POSITION);
  }

  /** How many rows there are. */
  long count() {
    return each(null);
  }

  /**
   * Takes them out. Nobody else may change the table meanwhile.
   *
   * @return how many there were
   */
  long takeOut() {
    RowDelta delta = table.newRowDelta();
    long rows = each(delta);
    if (rows > 0) {
      delta.commit();
    }
    return rows;
  }

  private long each(RowDelta delta) {
    List<FileScanTask> concerned = new ArrayList<>();
    try (CloseableIterable<FileScanTask> tasks = table.newScan().includeColumnStats().planFiles()) {
      for (FileScanTask task : tasks) {
        if (share(task) != PostingSet.Share.NONE) {
          concerned.add(task);
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    long rows = 0;
    for (FileScanTask task : concerned) {
      rows += from(task, delta);
    }
    return rows;
  }

  private PostingSet.Share share(FileScanTask task) {
    return postings.share(PostingBounds.of(table.schema(), task.file()));
  }

  private long from(FileScanTask task, RowDelta delta) {
    if (share(task) == PostingSet.Share.ALL && task.deletes().isEmpty()) {
      if (delta != null) {
        delta.removeRows(task.file());
      }
      return task.file().recordCount();
    }
    Roaring64NavigableMap found = new Roaring64NavigableMap();
    long others = 0;
    try (CloseableIterable<Record> rows = LiveRows.of(table, task, columns)) {
      for (Record row : rows) {
        if (postings.has((long) row.get(0), (long) row.get(1))) {
          found.addLong((long) row.get(2));
        } else {
          others++;
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    if (delta != null && !found.isEmpty()) {
      if (others == 0) {
        delta.removeRows(task.file());
      } else {
        delete(task.file(), found, delta);
      }
    }
    return found.getLongCardinality();
  }

  private void delete(DataFile data, Roaring64NavigableMap positions, RowDelta delta) {
    PartitionSpec spec = table.specs().get(data.specId());
    String name = UUID.randomUUID() + "-deletes.parquet";
    String location =
        spec.isUnpartitioned()
            ? table.locationProvider().newDataLocation(name)
            : table.locationProvider().newDataLocation(spec, data.partition(), name);
    try {
      PositionDeleteWriter<Record> writer =
          Parquet.writeDeletes(table.io().newOutputFile(location))
              .setAll(table.properties())
              .metricsConfig(MetricsConfig.forPositionDelete())
              .withSpec(spec)
              .withPartition(data.partition())
              .overwrite()
              .buildPositionWriter();
      try (writer) {
        PositionDelete<Record> position = PositionDelete.create();
        positions.forEach(at -> writer.write(position.set(data.location(), at)));
      }
      delta.addDeletes(writer.toDeleteFile());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
