package dev.dusky.lake.write;

import dev.dusky.core.json.JsonTree;
import dev.dusky.core.nested.NestedFault;
import dev.dusky.core.nested.NestedReader;
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
  private final Types.NestedField field;
  private final Record only;
  private final Optional<NestedReader> reader;
  private final int from;
  private final JsonTree tree = new JsonTree();

  /**
   * The writer of a column.
   *
   * @param form the form of the file, from which this column is taken
   * @param field the column of the table
   * @param type the type of the feed's column; none if the feed does not fill it
   * @param from where that column is in rows
   */
  NestedCells(MessageType form, Types.NestedField field, Optional<SqlType> type, int from) {
    this.field = field;
    Schema schema = new Schema(field);
    this.writer =
        GenericParquetWriter.create(
            schema, new MessageType(form.getName(), form.getType(field.name())));
    this.only = GenericRecord.create(schema);
    this.reader = type.map(NestedReader::of);
    this.from = from;
  }

  @Override
  public void write(int repetition, RowAt at) {
    only.set(0, reader.map(form -> value(form, at)).orElse(null));
    writer.write(repetition, only);
  }

  private Object value(NestedReader form, RowAt at) {
    BytesVector texts = (BytesVector) at.columns.get(from);
    if (texts.isNull(at.row)) {
      return null;
    }
    int start = texts.start(at.row);
    try {
      if (tree.read(texts.heap(), start, start + texts.length(at.row))) {
        return NestedValues.of(field.type(), form.read(tree));
      }
    } catch (NestedFault fault) {
      throw unread(fault.getMessage());
    }
    throw unread(tree.failure());
  }

  private IllegalStateException unread(String why) {
    return new IllegalStateException(
        "a value of column %s that was read before cannot be read: %s"
            .formatted(field.name(), why));
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
