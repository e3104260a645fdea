package dev.dusky.core.source;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.split.PartCompression;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.VectorText;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;

/**
 * Rows as JSON lines (RFC 8259): numbers with all their digits, times in ISO 8601, binary data in
 * hexadecimal. Hot.
 */
final class JsonRowFile implements RowFile {

  private static final int BUFFER = 256 << 10;

  private final List<SourceColumn> columns;
  private final byte[][] names;
  private final OutputStream out;
  private byte[] text = new byte[BUFFER];
  private int used;
  private long written;

  JsonRowFile(String path, Path file, List<SourceColumn> columns) throws IOException {
    this.columns = columns;
    this.names = new byte[columns.size()][];
    for (int c = 0; c < names.length; c++) {
      String name = (c == 0 ? "{" : ",") + JsonStrings.quoted(columns.get(c).name()) + ":";
      names[c] = name.getBytes(StandardCharsets.UTF_8);
    }
    this.out =
        PartCompression.ofPath(path)
            .open(new BufferedOutputStream(Files.newOutputStream(file), BUFFER));
  }

  @Override
  public void write(SourceBatch batch) throws IOException {
    for (int row = 0; row < batch.rows(); row++) {
      for (int c = 0; c < names.length; c++) {
        put(names[c], 0, names[c].length);
        value(columns.get(c).type(), batch.column(c), row);
      }
      room(2);
      text[used++] = '}';
      text[used++] = '\n';
      if (used > BUFFER - 4096) {
        flush();
      }
    }
  }

  private void value(SqlType type, ColumnVector vector, int row) {
    if (vector.isNull(row)) {
      ascii("null");
    } else if (type.kind().isInteger()) {
      number(((LongVector) vector).get(row));
    } else if (type.kind().isText()) {
      quoted((BytesVector) vector, row);
    } else if (type.kind() == TypeKind.JSON) {
      document((BytesVector) vector, row);
    } else {
      ascii(VectorText.json(type, vector, row));
    }
  }

  private void number(long value) {
    if (value == Long.MIN_VALUE) {
      ascii(Long.toString(value));
      return;
    }
    room(20);
    long rest = Math.abs(value);
    int end = used + (value < 0 ? 1 : 0) + digits(rest);
    if (value < 0) {
      text[used] = '-';
    }
    used = end;
    do {
      text[--end] = (byte) ('0' + rest % 10);
      rest /= 10;
    } while (rest > 0);
  }

  private static int digits(long value) {
    int digits = 1;
    for (long rest = value; rest >= 10; rest /= 10) {
      digits++;
    }
    return digits;
  }

  private void quoted(BytesVector vector, int row) {
    byte[] from = vector.heap();
    int start = vector.start(row);
    int end = start + vector.length(row);
    room(vector.length(row) + 2);
    text[used++] = '"';
    for (int i = start; i < end; i++) {
      byte c = from[i];
      if (c >= 0 && c < ' ' || c == '"' || c == '\\') {
        String all = JsonStrings.quoted(vector.text(row));
        used -= i - start + 1;
        byte[] bytes = all.getBytes(StandardCharsets.UTF_8);
        put(bytes, 0, bytes.length);
        return;
      }
      text[used++] = c;
    }
    text[used++] = '"';
  }

  /** A document on one line: line ends are only between its tokens. */
  private void document(BytesVector vector, int row) {
    int from = used;
    put(vector.heap(), vector.start(row), vector.length(row));
    for (int i = from; i < used; i++) {
      if (text[i] == '\n' || text[i] == '\r') {
        text[i] = ' ';
      }
    }
  }

  private void ascii(String value) {
    int length = value.length();
    room(length);
    for (int i = 0; i < length; i++) {
      text[used++] = (byte) value.charAt(i);
    }
  }

  private void put(byte[] from, int start, int length) {
    room(length);
    System.arraycopy(from, start, text, used, length);
    used += length;
  }

  private void room(int more) {
    if (text.length - used < more) {
      text = Arrays.copyOf(text, Math.max(used + more, text.length * 2));
    }
  }

  private void flush() throws IOException {
    out.write(text, 0, used);
    written += used;
    used = 0;
  }

  @Override
  public long bytes() {
    return written + used;
  }

  @Override
  public void close() throws IOException {
    flush();
    out.close();
  }
}
