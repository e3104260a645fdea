package dev.dusky.core.draft;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.record.DeclaredField;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.table.SqlNames;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;

/** Drafts files that carry a schema, and workbooks. */
final class SchemaDraft {

  private static final int ROWS = 5_000;

  private final ContentKind kind;
  private final FileSample sample;

  SchemaDraft(ContentKind kind, List<FileSample> samples) {
    this.kind = kind;
    this.sample = samples.get(0);
  }

  private SourceFile file() {
    return SourceFile.of(sample.file().path(), new ByteArrayInputStream(sample.head()));
  }

  TableDraft table(String name, List<Evidence> common) throws IOException {
    List<Evidence> evidence = new ArrayList<>(common);
    evidence.add(new Evidence("kind", kind.label(), "by the first bytes of the content", false));
    return kind == ContentKind.WORKBOOK ? workbook(name, evidence) : columnar(name, evidence);
  }

  private TableDraft columnar(String name, List<Evidence> evidence) throws IOException {
    Layout layout =
        new ColumnarLayout(
            name,
            ColumnarLayout.Format.valueOf(kind.name()),
            List.of(),
            DelimitedLayout.DEFAULT_RECORD_LIMIT);
    List<DeclaredField> fields = Readers.fields(file(), layout);
    FieldRequest request =
        new FieldRequest(
            fields.stream()
                .map(f -> new FieldRequest.Field(f.path(), f.type().kind() == TypeKind.JSON))
                .toList());
    TextTable table = TextTable.read(file(), layout, request, ROWS);
    List<String> given = fields.stream().map(DeclaredField::path).toList();
    List<String> names = SqlNames.of(given);
    List<ColumnDraft> columns = new ArrayList<>();
    for (int c = 0; c < fields.size(); c++) {
      DeclaredField field = fields.get(c);
      List<String> values = table.values(c);
      int longest = values.stream().mapToInt(v -> v.codePointCount(0, v.length())).max().orElse(1);
      SqlType type =
          field.type().kind() == TypeKind.TEXT
              ? SqlType.of(TypeKind.VARCHAR, ColumnGuess.roomy(longest))
              : field.type();
      boolean unique =
          values.size() == table.rows().size() && new HashSet<>(values).size() == values.size();
      FeedColumn column = FeedColumn.plain(names.get(c), type, field.required());
      if (!given.get(c).equalsIgnoreCase(names.get(c))) {
        column = column.withFrom(new FieldSource.Named(given.get(c)));
      }
      columns.add(
          new ColumnDraft(column, "declared by the file as " + field.type(), false, unique));
    }
    return new TableDraft(name, layout, columns, List.of(), evidence, Optional.empty(), List.of());
  }

  private TableDraft workbook(String name, List<Evidence> evidence) throws IOException {
    WorkbookLayout all = layout(name, "", HeaderUse.ABSENT);
    TextTable cells = TextTable.read(file(), all, FieldRequest.of(List.of()), ROWS);
    if (cells.rows().isEmpty()) {
      throw Failure.file(sample.file().path() + " has nothing in its first sheet")
          .hint("Name the sheet in a layout of kind workbook");
    }
    int first = firstRow(cells.rows());
    Headers.Verdict verdict = Headers.judge(cells.rows().subList(first, cells.rows().size()));
    boolean header = verdict.header();
    String range = first == 0 ? "" : "A" + cells.lines().get(first);
    evidence.add(
        new Evidence(
            "range",
            range.isEmpty() ? "the whole first sheet" : "from " + range,
            first == 0 ? "its rows are similar" : "the rows above fill few of the columns",
            first > 0));
    if (!cells.beside().isEmpty()) {
      evidence.add(
          new Evidence(
              "beside",
              Evidence.some(cells.beside()),
              "not read: a feed reads one sheet; another names its sheet in the layout",
              true));
    }
    HeaderUse use = header ? HeaderUse.NAMES : HeaderUse.ABSENT;
    TextTable table =
        TextTable.read(file(), layout(name, range, use), FieldRequest.of(List.of()), ROWS);
    List<String> given = new ArrayList<>(table.names());
    boolean wider = header && table.width() > given.size();
    while (given.size() < table.width()) {
      given.add("");
    }
    evidence.add(
        new Evidence(
            "header",
            wider ? "skip" : header ? "yes" : "no",
            wider
                ? "it names %d of %d columns".formatted(table.names().size(), table.width())
                : header ? "that row reads like names" : "that row reads like the others",
            wider || verdict.doubtful()));
    WorkbookLayout layout = layout(name, range, wider ? HeaderUse.SKIP : use);
    return new TableDraft(
        name,
        layout,
        TextDraft.columns(given, table, List.of(""), header && !wider),
        List.of(),
        evidence,
        Optional.empty(),
        List.of());
  }

  /** The first row that is not a title: it fills more than a few of the columns. */
  private static int firstRow(List<List<String>> rows) {
    List<List<String>> beginning = rows.subList(0, Math.min(30, rows.size()));
    long most = beginning.stream().mapToLong(SchemaDraft::filled).max().orElse(0);
    int first = 0;
    while (first < beginning.size() - 1 && Headers.isTitle(filled(beginning.get(first)), most)) {
      first++;
    }
    return first;
  }

  private static long filled(List<String> row) {
    return row.stream().filter(v -> v != null).count();
  }

  private static WorkbookLayout layout(String name, String range, HeaderUse header) {
    return new WorkbookLayout(
        name, "", range, header, true, List.of(""), DelimitedLayout.DEFAULT_RECORD_LIMIT);
  }
}
