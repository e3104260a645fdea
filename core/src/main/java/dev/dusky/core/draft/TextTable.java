package dev.dusky.core.draft;

import dev.dusky.core.layout.Layout;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.FieldText;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.record.TypedColumns;
import dev.dusky.core.vector.VectorText;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;

/**
 * Records of a sample as texts.
 *
 * @param names what the file calls its fields, if it does
 * @param rows the records that could be split; a field without a value is null
 * @param lines the line or row of each
 * @param broken how many could not
 * @param beside other tables in the file, which were not read
 */
record TextTable(
    List<String> names,
    List<List<String>> rows,
    List<Long> lines,
    int broken,
    List<String> beside) {

  TextTable(List<String> names, List<List<String>> rows, List<Long> lines, int broken) {
    this(names, rows, lines, broken, List.of());
  }

  static TextTable read(byte[] bytes, Layout layout, FieldRequest request, int most)
      throws IOException {
    return read(
        SourceFile.of("the sample", new ByteArrayInputStream(bytes)), layout, request, most);
  }

  static TextTable read(SourceFile file, Layout layout, FieldRequest request, int most)
      throws IOException {
    List<List<String>> rows = new ArrayList<>();
    List<Long> lines = new ArrayList<>();
    int broken = 0;
    try (RecordReader reader = Readers.open(file, layout, request)) {
      RecordBatch batch = new RecordBatch(64 << 10);
      FieldSplitter splitter = reader.splitter();
      FieldText text = new FieldText(layout);
      while (rows.size() < most && reader.read(batch)) {
        RecordBatch split = splitter.split(batch);
        for (int r = 0; r < split.records() && rows.size() < most; r++) {
          if (split.fault(r) != null) {
            broken++;
          } else {
            lines.add(split.line(r));
            rows.add(split.typed() != null ? typed(split.typed(), r) : fields(split, r, text));
          }
        }
      }
      return new TextTable(reader.names(), rows, lines, broken, reader.beside());
    }
  }

  private static List<String> fields(RecordBatch batch, int record, FieldText text) {
    List<String> fields = new ArrayList<>(batch.fieldCount(record));
    for (int f = 0; f < batch.fieldCount(record); f++) {
      int field = batch.firstField(record) + f;
      text.locate(batch, field);
      boolean none = text.start() == text.end() && !batch.quoted(field);
      fields.add(none ? null : text.toString());
    }
    return fields;
  }

  private static List<String> typed(TypedColumns columns, int row) {
    List<String> fields = new ArrayList<>();
    for (int c = 0; c < columns.types().size(); c++) {
      boolean none = columns.vectors().get(c).isNull(row);
      fields.add(
          none ? null : VectorText.text(columns.types().get(c), columns.vectors().get(c), row));
    }
    return fields;
  }

  /** The values of a field, nulls left out. */
  List<String> values(int field) {
    List<String> values = new ArrayList<>(rows.size());
    for (List<String> row : rows) {
      if (field < row.size() && row.get(field) != null) {
        values.add(row.get(field));
      }
    }
    return values;
  }

  /** The most fields that any record has. */
  int width() {
    return rows.stream().mapToInt(List::size).max().orElse(0);
  }
}
