package dev.dusky.lake;

import dev.dusky.core.table.Provenance;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.DeleteFile;
import org.apache.iceberg.DeleteFiles;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.MetadataColumns;
import org.apache.iceberg.MetricsConfig;
import org.apache.iceberg.PartitionSpec;
import org.apache.iceberg.RowDelta;
import org.apache.iceberg.Schema;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.data.parquet.GenericParquetReaders;
import org.apache.iceberg.deletes.PositionDelete;
import org.apache.iceberg.deletes.PositionDeleteWriter;
import org.apache.iceberg.expressions.Expression;
import org.apache.iceberg.expressions.Expressions;
import org.apache.iceberg.expressions.StrictMetricsEvaluator;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.parquet.Parquet;

/**
 * Takes the rows of one posting out of a table. Data files that have no other rows are dropped by
 * metadata alone; in a shared data file the rows are named by their positions.
 */
final class TakenRows {

  private final Table table;
  private final Expression wanted;
  private final long load;
  private final long file;

  TakenRows(Table table, long load, long file) {
    this.table = table;
    this.load = load;
    this.file = file;
    this.wanted =
        Expressions.and(
            Expressions.equal(Provenance.LOAD, load), Expressions.equal(Provenance.FILE, file));
  }

  /**
   * Takes them out.
   *
   * @return how many there were
   */
  long takeOut() {
    StrictMetricsEvaluator all = new StrictMetricsEvaluator(table.schema(), wanted);
    List<DataFile> whole = new ArrayList<>();
    List<DataFile> shared = new ArrayList<>();
    try (CloseableIterable<FileScanTask> tasks =
        table.newScan().filter(wanted).includeColumnStats().planFiles()) {
      tasks.forEach(task -> (all.eval(task.file()) ? whole : shared).add(task.file()));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    long rows = whole.stream().mapToLong(DataFile::recordCount).sum();
    if (!whole.isEmpty()) {
      DeleteFiles delete = table.newDelete();
      whole.forEach(delete::deleteFile);
      delete.commit();
    }
    return rows + fromShared(shared);
  }

  private long fromShared(List<DataFile> shared) {
    long rows = 0;
    RowDelta delta = table.newRowDelta();
    for (DataFile data : shared) {
      try {
        PositionDeleteWriter<Record> writer = writer();
        long found = 0;
        try (writer;
            CloseableIterable<Record> records = provenance(data)) {
          PositionDelete<Record> position = PositionDelete.create();
          for (Record row : records) {
            if ((long) row.get(0) == load && (long) row.get(1) == file) {
              writer.write(position.set(data.location(), (long) row.get(2)));
              found++;
            }
          }
        }
        if (found > 0) {
          DeleteFile deletes = writer.toDeleteFile();
          delta.addDeletes(deletes);
          rows += found;
        }
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
    if (rows > 0) {
      delta.commit();
    }
    return rows;
  }

  private PositionDeleteWriter<Record> writer() throws IOException {
    String location =
        table.locationProvider().newDataLocation(UUID.randomUUID() + "-deletes.parquet");
    return Parquet.writeDeletes(table.io().newOutputFile(location))
        .setAll(table.properties())
        .metricsConfig(MetricsConfig.forPositionDelete())
        .withSpec(PartitionSpec.unpartitioned())
        .overwrite()
        .buildPositionWriter();
  }

  private CloseableIterable<Record> provenance(DataFile data) {
    Schema columns =
        new Schema(
            table.schema().findField(Provenance.LOAD),
            table.schema().findField(Provenance.FILE),
            MetadataColumns.ROW_POSITION);
    return Parquet.read(table.io().newInputFile(data))
        .project(columns)
        .createReaderFunc(form -> GenericParquetReaders.buildReader(columns, form))
        .build();
  }
}
