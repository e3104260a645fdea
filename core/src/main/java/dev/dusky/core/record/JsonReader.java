package dev.dusky.core.record;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.layout.JsonForm;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.LineEnd;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * Reads JSON: finds the records here, in lines or in documents, and their fields on the threads
 * that {@link #splitter} goes to.
 */
public final class JsonReader implements RecordReader {

  private static final int LOOK = 64 << 10;

  /** Where records come from. */
  private interface Source {
    boolean fill(RecordBatch batch) throws IOException;
  }

  private final InputStream in;
  private final JsonPlan plan;
  private final Source source;
  private byte[] mark = new byte[0];
  private Optional<TextRanges> ranges = Optional.empty();

  /** Opens a file's uncompressed bytes. */
  public JsonReader(String path, InputStream content, JsonLayout layout, FieldRequest request)
      throws IOException {
    this.plan = JsonPlan.of(layout, request);
    BufferedInputStream buffered = new BufferedInputStream(content, LOOK);
    this.in = buffered;
    buffered.mark(LOOK);
    byte[] head = buffered.readNBytes(LOOK);
    buffered.reset();
    if (isBlank(head)) {
      throw TextRecords.empty(path);
    }
    JsonForm form = layout.form() == JsonForm.AUTO ? form(layout, head) : layout.form();
    if (form == JsonForm.LINES) {
      TextRecords text =
          new TextRecords(path, buffered, layout.encoding(), "JSON", layout.recordLimit());
      mark = text.mark();
      refuseOther(path, text.head());
      byte lineEnd = text.lineEnd(LineEnd.AUTO);
      LineScanner scanner = new LineScanner(lineEnd, 1, layout.recordLimit());
      ranges =
          TextRanges.of(
              text,
              () -> new LineScanner(lineEnd, 0, layout.recordLimit()),
              new RecordStart.BehindLine(lineEnd),
              1);
      source = batch -> text.fill(batch, scanner, TextRecords.MOST_RECORDS);
    } else {
      String records = layout.records().orElseGet(() -> firstCharacter(head) == '[' ? "$[*]" : "$");
      source = new JsonDocument(path, buffered, layout, records)::fill;
    }
  }

  private static boolean isBlank(byte[] head) {
    return firstCharacter(head) < 0;
  }

  private static int firstCharacter(byte[] head) {
    int at = head.length > 2 && (head[0] & 0xff) == 0xef ? 3 : 0;
    for (int i = at; i < head.length; i++) {
      if (head[i] > ' ' || head[i] < 0) {
        return head[i] & 0xff;
      }
    }
    return -1;
  }

  /** Lines if the first one is a whole value and not the only array of the file. */
  private static JsonForm form(JsonLayout layout, byte[] head) {
    if (layout.records().isPresent()) {
      return JsonForm.DOCUMENT;
    }
    int from = 0;
    while (from < head.length && (head[from] <= ' ' && head[from] >= 0 || head[from] < -1)) {
      from++; // blank lines, a byte order mark
    }
    int end = DelimitedScanner.find((byte) '\n', head, from, head.length);
    boolean array = head[Math.min(from, head.length - 1)] == '[';
    if (end < 0 && head.length == LOOK) {
      return array ? JsonForm.DOCUMENT : JsonForm.LINES;
    }
    int stop = end < 0 ? head.length : end;
    boolean whole = new JsonTree().read(head, from, stop);
    int next = firstCharacter(Arrays.copyOfRange(head, stop, head.length));
    boolean more = array ? next == '[' : next >= 0;
    boolean opens = stop - from <= 2 && (array || head[from] == '{');
    if (!whole && opens) {
      return JsonForm.DOCUMENT;
    }
    return whole && (!array || more)
            || !whole && !array && more && head[from] == '{' && closes(head, stop)
        ? JsonForm.LINES
        : JsonForm.DOCUMENT;
  }

  /** Whether the line that ends here ends like a whole object, broken as it may be. */
  private static boolean closes(byte[] head, int stop) {
    int at = stop - 1;
    while (at > 0 && head[at] <= ' ' && head[at] >= 0) {
      at--;
    }
    return at > 0 && head[at] == '}';
  }

  private static void refuseOther(String path, byte[] head) {
    int first = firstCharacter(head);
    if (first == '<') {
      throw Failure.file(path + " is not JSON")
          .because("it begins like XML")
          .hint("Give the feed a layout of kind xml, or check which file was staged");
    }
  }

  @Override
  public List<String> names() {
    return List.of();
  }

  @Override
  public byte[] preamble() {
    return mark;
  }

  @Override
  public Optional<TextRanges> ranges() {
    return ranges;
  }

  @Override
  public boolean read(RecordBatch batch) throws IOException {
    return source.fill(batch);
  }

  @Override
  public FieldSplitter splitter() {
    return new JsonFields(plan);
  }

  @Override
  public void close() throws IOException {
    in.close();
  }

  /** The error of a layout's paths, if any. */
  public static Optional<String> problem(JsonLayout layout, FieldRequest request) {
    try {
      JsonPlan.of(layout, request);
      if (layout.records().isPresent()) {
        JsonDocument.checkPath(layout.records().get());
      }
      for (String path : layout.carry()) {
        JsonDocument.checkPath(path);
      }
      return Optional.empty();
    } catch (IllegalArgumentException e) {
      return Optional.of(e.getMessage());
    }
  }
}
