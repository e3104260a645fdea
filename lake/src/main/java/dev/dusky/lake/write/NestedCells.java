package dev.dusky.lake.write;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.lake.type.NestedValues;
import java.util.List;
import java.util.Optional;
import org.apache.iceberg.Schema;
import org.apache.iceberg.data.GenericRecord;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.data.parquet.GenericParquetWriter;
import org.apache.iceberg.parquet.ParquetValueWriter;
import org.apache.iceberg.parquet.TripleWriter;
import org.apache.iceberg.types.Types;
import org.apache.parquet.column.ColumnWriteStore;
import org.apache.parquet.schema.MessageType;

/** Writes JSON values of a declared form into the columns of a structure, a list or a map. */
final class NestedCells implements ParquetValueWriter<RowAt> {

  private final ParquetValueWriter<Record> writer;
  private final Record only;
  private final Optional<NestedValues> values;
  private final int from;

  /**
   * The writer of a column.
   *
   * @param form the form of the file, from which this column is taken
   * @param field the column of the table
   * @param type the type of the feed's column; none if the feed does not fill it
   * @param from where that column is in rows
   */
  NestedCells(MessageType form, Types.NestedField field, Optional<SqlType> type, int from) {
    Schema schema = new Schema(field);
    this.writer =
        GenericParquetWriter.create(
            schema, new MessageType(form.getName(), form.getType(field.name())));
    this.only = GenericRecord.create(schema);
    this.values = type.map(declared -> new NestedValues(field.type(), declared));
    this.from = from;
  }

  @Override
  public void write(int repetition, RowAt at) {
    only.set(0, values.map(column -> value(column, at)).orElse(null));
    writer.write(repetition, only);
  }

  private Object value(NestedValues column, RowAt at) {
    BytesVector texts = (BytesVector) at.columns.get(from);
    int start = texts.start(at.row);
    return texts.isNull(at.row)
        ? null
        : column.read(texts.heap(), start, start + texts.length(at.row));
  }

  @Override
  public List<TripleWriter<?>> columns() {
    return writer.columns();
  }

  @Override
  public void setColumnStore(ColumnWriteStore store) {
    writer.setColumnStore(store);
  }
}
