package dev.dusky.core.record;

import static org.junit.jupiter.api.Assertions.assertEquals;

import com.code_intelligence.jazzer.junit.FuzzTest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.List;

/** Any bytes are records, rejects or the refusal of one file; batching changes nothing. */
class ReaderFuzzTest {

  private static final DelimitedLayout SMALL =
      Layouts.plain().with(l -> l.recordLimit = 1024).build();

  private static int read(byte[] bytes, Layout layout, int capacity, String... paths)
      throws IOException {
    FieldRequest request =
        new FieldRequest(
            List.of(paths).stream().map(path -> new FieldRequest.Field(path, false)).toList());
    int records = 0;
    try (RecordReader reader =
        Readers.open(SourceFile.of("in/a", new ByteArrayInputStream(bytes)), layout, request)) {
      RecordBatch batch = new RecordBatch(capacity);
      FieldSplitter splitter = reader.splitter();
      while (reader.read(batch)) {
        RecordBatch split = splitter.split(batch);
        for (int r = 0; r < split.records(); r++) {
          split.raw(r);
        }
        records += split.records();
      }
    } catch (Failure failure) {
      assertEquals(Failure.Kind.FILE, failure.kind());
      return -1;
    }
    return records;
  }

  @FuzzTest(maxDuration = "10m")
  void delimited(byte[] bytes) throws IOException {
    int small = read(bytes, SMALL, 64);
    assertEquals(small, read(bytes, SMALL, 256 << 10), "whatever the batch");
    read(bytes, Layouts.plain().with(l -> l.header = HeaderUse.NAMES).build(), 4096);
  }

  @FuzzTest(maxDuration = "10m")
  void json(byte[] bytes) throws IOException {
    read(bytes, JsonLayout.plain("j"), 4096, "$.a", "$.b[*].c", "$['1']");
  }
}
