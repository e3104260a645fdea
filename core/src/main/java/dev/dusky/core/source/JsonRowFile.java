package dev.dusky.core.source;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.split.PartCompression;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.VectorText;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/**
 * Rows as JSON lines (RFC 8259): numbers with all their digits, times in ISO 8601, binary data in
 * hexadecimal. Hot.
 */
final class JsonRowFile implements RowFile {

  private static final int BUFFER = 256 << 10;
  private static final int FULL = BUFFER - 4096;

  private final List<SourceColumn> columns;
  private final byte[][] names;
  private final OutputStream out;
  private final TextBuffer text = new TextBuffer(BUFFER);
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
        text.put(names[c], 0, names[c].length);
        ColumnVector vector = batch.column(c);
        if (vector.isNull(row)) {
          text.put("null");
        } else {
          value(columns.get(c).type(), vector, row);
        }
      }
      text.put('}');
      text.put('\n');
      if (text.length() > FULL) {
        flush();
      }
    }
  }

  private void value(SqlType type, ColumnVector vector, int row) {
    switch (type.kind()) {
      case SMALLINT, INTEGER, BIGINT -> text.putNumber(((LongVector) vector).get(row));
      case BOOLEAN -> text.put(((LongVector) vector).get(row) == 0 ? "false" : "true");
      case DECIMAL -> decimal((DecimalVector) vector, row);
      case CHAR, VARCHAR, TEXT -> text((BytesVector) vector, row);
      case JSON -> {
        BytesVector bytes = (BytesVector) vector;
        text.putOnOneLine(bytes.heap(), bytes.start(row), bytes.length(row));
      }
      case DATE, TIME, TIMESTAMP, TIMESTAMP_TZ -> {
        text.put('"');
        time(type, ((LongVector) vector).get(row));
        text.put('"');
      }
      default -> text.put(VectorText.json(type, vector, row));
    }
  }

  private void time(SqlType type, long value) {
    switch (type.kind()) {
      case DATE -> text.putDate(value);
      case TIME -> text.putTime(value);
      case TIMESTAMP -> text.putTimestamp(value);
      default -> {
        text.putTimestamp(value);
        text.put('Z');
      }
    }
  }

  private void decimal(DecimalVector vector, int row) {
    if (vector.isWide(row)) {
      text.put(vector.get(row).toPlainString());
    } else {
      text.putDecimal(vector.unscaled(row), vector.scale());
    }
  }

  private void text(BytesVector vector, int row) {
    if (!text.putQuoted(vector.heap(), vector.start(row), vector.length(row))) {
      text.put(JsonStrings.quoted(vector.text(row)));
    }
  }

  private void flush() throws IOException {
    written += text.length();
    text.moveTo(out);
  }

  @Override
  public long bytes() {
    return written + text.length();
  }

  @Override
  public void close() throws IOException {
    flush();
    out.close();
  }
}
