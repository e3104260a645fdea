package dev.dusky.lake.read;

import org.apache.iceberg.FileFormat;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.Schema;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.GenericDeleteFilter;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.data.parquet.GenericParquetReaders;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.parquet.Parquet;

/** The rows of a data file that are in force: those that no delete names. */
public final class LiveRows {

  private LiveRows() {}

  /**
   * Reads them in the order of the file, or of the part of it that the task is about.
   *
   * @param task the file with its deletes
   * @param columns the columns of each row; columns that only the deletes need may follow
   * @throws IllegalStateException if another engine has written the file in another format
   */
  public static CloseableIterable<Record> of(Table table, FileScanTask task, Schema columns) {
    if (task.file().format() != FileFormat.PARQUET) {
      throw new IllegalStateException(
          "data file %s is in the format %s; only Parquet is read"
              .formatted(task.file().location(), task.file().format()));
    }
    GenericDeleteFilter filter = new GenericDeleteFilter(table.io(), task, table.schema(), columns);
    Schema needed = filter.requiredSchema();
    return filter.filter(
        Parquet.read(table.io().newInputFile(task.file()))
            .split(task.start(), task.length())
            .project(needed)
            .createReaderFunc(form -> GenericParquetReaders.buildReader(needed, form))
            .build());
  }
}
