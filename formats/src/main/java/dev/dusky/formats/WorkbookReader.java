package dev.dusky.formats;

import dev.dusky.core.bytes.SpooledContent;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.record.RecordAppender;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.Row;
import org.dhatim.fastexcel.reader.Sheet;

/** Reads a sheet row by row. Cells become the text of their value. */
final class WorkbookReader implements RecordReader {

  private final String path;
  private final WorkbookLayout layout;
  private final SpooledContent spooled;
  private final ReadableWorkbook workbook;
  private final Sheet sheet;
  private final CellRange range;
  private final Stream<Row> stream;
  private final Iterator<Row> rows;
  private final CellText cells;
  private final RecordAppender appender;
  private final List<String> names;
  private int width;

  WorkbookReader(
      String path,
      WorkbookLayout layout,
      SpooledContent spooled,
      ReadableWorkbook workbook,
      Sheet sheet,
      boolean from1904)
      throws IOException {
    this.path = path;
    this.layout = layout;
    this.spooled = spooled;
    this.workbook = workbook;
    this.sheet = sheet;
    this.range = CellRange.of(layout.range()).orElse(CellRange.ALL);
    this.stream = sheet.openStream();
    this.rows = stream.iterator();
    this.cells = new CellText(from1904);
    this.appender = new RecordAppender(layout.recordLimit());
    this.names = layout.header() == HeaderUse.ABSENT ? List.of() : header();
  }

  private List<String> header() {
    List<String> first = null;
    while (rows.hasNext()) {
      Row row = rows.next();
      if (inside(row)) {
        first = texts(row);
        if (first.stream().anyMatch(t -> !t.isBlank())) {
          break;
        }
        first = null;
      }
    }
    if (first == null) {
      throw Failure.file("%s has no header in sheet '%s'".formatted(path, sheet.getName()))
          .because("there is no row with anything in it")
          .hint("Check sheet and range in layout " + layout.name());
    }
    int last = first.size();
    while (last > 0 && first.get(last - 1).isBlank()) {
      last--;
    }
    width = last;
    return first.subList(0, last).stream().map(String::strip).toList();
  }

  private boolean inside(Row row) {
    return row.getRowNum() >= range.firstRow() && row.getRowNum() <= range.lastRow();
  }

  /** The texts of a row's cells within the range; empty cells are empty texts. */
  private List<String> texts(Row row) {
    List<String> texts = new ArrayList<>();
    int last = Math.min(range.lastColumn() + 1, row.getCellCount());
    for (int column = range.firstColumn(); column < last; column++) {
      texts.add(row.getOptionalCell(column).map(cells::of).orElse(""));
    }
    return texts;
  }

  @Override
  public List<String> names() {
    return layout.header() == HeaderUse.NAMES ? names : List.of();
  }

  @Override
  public List<String> beside() {
    return workbook
        .getSheets()
        .filter(other -> other.getIndex() != sheet.getIndex())
        .map(Sheet::getName)
        .toList();
  }

  @Override
  public byte[] preamble() {
    return names().stream()
        .map(JsonStrings::quoted)
        .collect(Collectors.joining(",", "[", "]"))
        .getBytes(StandardCharsets.UTF_8);
  }

  @Override
  public boolean read(RecordBatch batch) throws IOException {
    appender.begin(batch);
    try {
      while (!appender.full() && rows.hasNext()) {
        Row row = rows.next();
        if (inside(row)) {
          add(row);
        }
      }
    } catch (RuntimeException e) {
      if (e instanceof Failure) {
        throw e;
      }
      throw WorkbookReaders.damaged(path, e);
    }
    String name = sheet.getName();
    appender.places(r -> "sheet %s, row %d".formatted(name, batch.line(r)));
    return batch.records() > 0;
  }

  private void add(Row row) {
    List<String> texts = texts(row);
    if (texts.stream().allMatch(String::isEmpty)) {
      return;
    }
    while (texts.size() > width && texts.get(texts.size() - 1).isEmpty()) {
      texts.remove(texts.size() - 1);
    }
    StringBuilder raw = new StringBuilder("[");
    for (String text : texts) {
      raw.append(raw.length() > 1 ? "," : "").append(JsonStrings.quoted(text));
    }
    byte[] bytes = raw.append(']').toString().getBytes(StandardCharsets.UTF_8);
    appender.record(bytes, 0, bytes.length);
    for (int f = 0; f < Math.max(width, texts.size()); f++) {
      String text = f < texts.size() ? texts.get(f) : "";
      String value = layout.trim() ? text.strip() : text;
      if (value.isEmpty()) {
        appender.nothing();
      } else {
        appender.field(value);
      }
    }
    appender.end(row.getRowNum(), 0);
  }

  @Override
  public void close() throws IOException {
    stream.close();
    workbook.close();
    spooled.close();
  }
}
