package dev.dusky.core.record;

import dev.dusky.core.layout.DelimitedLayout;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/** A record as a test sees it: its fields as text or its fault, and where it stood. */
record ReadRecord(
    List<String> fields, RecordFault fault, long number, long line, long offset, byte[] raw) {

  static List<ReadRecord> all(String text, DelimitedLayout layout) throws IOException {
    return all(text.getBytes(StandardCharsets.UTF_8), layout, 1 << 16);
  }

  static List<ReadRecord> all(byte[] bytes, DelimitedLayout layout, int capacity)
      throws IOException {
    return all(new ByteArrayInputStream(bytes), layout, capacity);
  }

  static List<ReadRecord> all(InputStream in, DelimitedLayout layout, int capacity)
      throws IOException {
    List<ReadRecord> result = new ArrayList<>();
    try (DelimitedReader reader = new DelimitedReader("test.csv", in, layout)) {
      RecordBatch batch = new RecordBatch(capacity);
      FieldText text = new FieldText(layout);
      while (reader.read(batch)) {
        long before = result.size();
        for (int r = 0; r < batch.records(); r++) {
          List<String> fields = new ArrayList<>();
          for (int f = 0; f < batch.fieldCount(r); f++) {
            text.locate(batch, batch.firstField(r) + f);
            fields.add(
                new String(
                    text.bytes(), text.start(), text.end() - text.start(), StandardCharsets.UTF_8));
          }
          result.add(
              new ReadRecord(
                  fields,
                  batch.fault(r),
                  before + r + 1,
                  batch.line(r),
                  batch.byteOffset(r),
                  batch.raw(r)));
        }
      }
    }
    return result;
  }

  static List<List<String>> fields(String text, DelimitedLayout layout) throws IOException {
    return all(text, layout).stream().map(ReadRecord::fields).toList();
  }
}
