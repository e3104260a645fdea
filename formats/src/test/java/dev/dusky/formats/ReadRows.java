package dev.dusky.formats;

import dev.dusky.core.layout.Layout;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.FieldText;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordFault;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.vector.VectorText;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/**
 * What a reader gives, as a test sees it.
 *
 * @param names the names that the file gives
 * @param types the types of the columns, if they are typed
 * @param rows the records as texts with bars between, a dash for no value
 * @param places where each is
 * @param raws each as it is kept if rejected
 * @param faults what is wrong with each, or null
 */
record ReadRows(
    List<String> names,
    List<String> types,
    List<String> rows,
    List<String> places,
    List<String> raws,
    List<RecordFault> faults) {

  static ReadRows of(byte[] bytes, Layout layout, String... paths) throws IOException {
    List<FieldRequest.Field> fields = new ArrayList<>();
    for (String path : paths) {
      boolean json = path.startsWith("json:");
      fields.add(new FieldRequest.Field(json ? path.substring(5) : path, json));
    }
    SourceFile file = SourceFile.of("test.file", new ByteArrayInputStream(bytes));
    ReadRows result =
        new ReadRows(
            new ArrayList<>(),
            new ArrayList<>(),
            new ArrayList<>(),
            new ArrayList<>(),
            new ArrayList<>(),
            new ArrayList<>());
    try (RecordReader reader = Readers.open(file, layout, new FieldRequest(fields))) {
      result.names.addAll(reader.names());
      RecordBatch batch = new RecordBatch(4096);
      FieldSplitter splitter = reader.splitter();
      while (reader.read(batch)) {
        result.add(splitter.split(batch), layout);
      }
    }
    return result;
  }

  private void add(RecordBatch batch, Layout layout) {
    FieldText text = new FieldText(layout);
    if (batch.typed() != null && types.isEmpty()) {
      batch.typed().types().forEach(type -> types.add(type.toString()));
    }
    for (int r = 0; r < batch.records(); r++) {
      List<String> values = new ArrayList<>();
      if (batch.typed() != null) {
        for (int c = 0; c < batch.typed().types().size(); c++) {
          boolean none = batch.typed().vectors().get(c).isNull(r);
          values.add(
              none
                  ? "-"
                  : VectorText.text(
                      batch.typed().types().get(c), batch.typed().vectors().get(c), r));
        }
      } else {
        for (int f = 0; f < batch.fieldCount(r); f++) {
          int field = batch.firstField(r) + f;
          text.locate(batch, field);
          boolean none = text.start() == text.end() && !batch.quoted(field);
          values.add(none ? "-" : text.toString());
        }
      }
      rows.add(String.join("|", values));
      places.add(batch.place(r).isEmpty() ? "line " + batch.line(r) : batch.place(r));
      raws.add(new String(batch.raw(r), StandardCharsets.UTF_8));
      faults.add(batch.fault(r));
    }
  }

  /** A file that came from another program, kept with the tests. */
  static byte[] resource(String name) throws IOException {
    try (InputStream in = ReadRows.class.getResourceAsStream(name)) {
      return in.readAllBytes();
    }
  }
}
