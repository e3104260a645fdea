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
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.warehouse.SqlNames;
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
          .next("Name the sheet in a layout of kind workbook");
    }
    int best = 0;
    long most = 0;
    for (int r = 0; r < Math.min(30, cells.rows().size()); r++) {
      long filled = cells.rows().get(r).stream().filter(v -> v != null).count();
      if (filled > most) {
        most = filled;
        best = r;
      }
    }
    List<List<String>> below = cells.rows().subList(best, cells.rows().size());
    boolean header = Headers.isHeader(below);
    String range = best == 0 ? "" : "A" + cells.lines().get(best);
    evidence.add(
        new Evidence(
            "range",
            range.isEmpty() ? "the whole first sheet" : "from " + range,
            "the first row with %d cells filled".formatted(most),
            best > 0));
    evidence.add(
        new Evidence(
            "header",
            header ? "yes" : "no",
            header ? "that row reads like names" : "that row reads like the others",
            false));
    WorkbookLayout layout = layout(name, range, header ? HeaderUse.NAMES : HeaderUse.ABSENT);
    TextTable table = TextTable.read(file(), layout, FieldRequest.of(List.of()), ROWS);
    List<String> given = new ArrayList<>();
    for (int c = 0; c < (header ? table.names().size() : table.width()); c++) {
      given.add(header ? table.names().get(c) : "");
    }
    return new TableDraft(
        name,
        layout,
        TextDraft.columns(given, table, List.of(""), header),
        List.of(),
        evidence,
        Optional.empty(),
        List.of());
  }

  private static WorkbookLayout layout(String name, String range, HeaderUse header) {
    return new WorkbookLayout(
        name, "", range, header, true, List.of(""), DelimitedLayout.DEFAULT_RECORD_LIMIT);
  }
}
