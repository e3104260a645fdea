package dev.dusky.core.record;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Layout;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/** A record as a test sees it: its fields as text or its fault, and where it stood. */
record ReadRecord(
    List<String> fields, RecordFault fault, long number, long line, long offset, byte[] raw) {

  /** Reads a file of any layout, fields split as a load would split them. */
  static List<ReadRecord> all(byte[] bytes, Layout layout, String... paths) throws IOException {
    List<FieldRequest.Field> fields = new ArrayList<>();
    for (String path : paths) {
      boolean json = path.startsWith("json:");
      fields.add(new FieldRequest.Field(json ? path.substring(5) : path, json));
    }
    List<ReadRecord> result = new ArrayList<>();
    SourceFile file = SourceFile.of("test.file", new ByteArrayInputStream(bytes));
    try (RecordReader reader = Readers.open(file, layout, new FieldRequest(fields))) {
      RecordBatch batch = new RecordBatch(256);
      FieldSplitter splitter = reader.splitter();
      while (reader.read(batch)) {
        RecordBatch split = splitter.split(batch);
        FieldText text = new FieldText(layout);
        for (int r = 0; r < split.records(); r++) {
          List<String> values = new ArrayList<>();
          for (int f = 0; f < split.fieldCount(r); f++) {
            int field = split.firstField(r) + f;
            text.locate(split, field);
            boolean none = text.start() == text.end() && !split.quoted(field);
            values.add(none ? null : text.toString());
          }
          result.add(
              new ReadRecord(
                  values,
                  split.fault(r),
                  result.size() + 1,
                  split.line(r),
                  split.byteOffset(r),
                  split.raw(r)));
        }
      }
    }
    return result;
  }

  static List<ReadRecord> all(String text, Layout layout, String... paths) throws IOException {
    return all(text.getBytes(StandardCharsets.UTF_8), layout, paths);
  }

  /** The raw record as text. */
  String rawText() {
    return new String(raw, StandardCharsets.UTF_8);
  }

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
