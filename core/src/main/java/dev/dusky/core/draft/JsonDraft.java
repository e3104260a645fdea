package dev.dusky.core.draft;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.layout.EmptyRows;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.JsonReader;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.table.SqlNames;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Drafts JSON: a table for the records, and one for each array of objects in them. */
final class JsonDraft {

  /** Paths in fewer records than this share get no column. */
  private static final double RARE = 0.02;

  private static final int RECORDS = 5_000;

  private final List<FileSample> samples;
  private final PathStatistics statistics = new PathStatistics();

  JsonDraft(List<FileSample> samples) {
    this.samples = samples;
  }

  List<TableDraft> tables(String name, List<Evidence> common) throws IOException {
    List<Evidence> evidence = new ArrayList<>(common);
    JsonOutline document = new JsonOutline(samples.get(0).head());
    Optional<String> records = document.records();
    JsonLayout plain = JsonLayout.plain(name);
    JsonLayout layout =
        new JsonLayout(
            name,
            plain.form(),
            records,
            Optional.empty(),
            EmptyRows.NONE,
            List.of(),
            plain.encoding(),
            List.of(),
            plain.recordLimit());
    gather(layout);
    if (statistics.records() == 0) {
      throw Failure.file(samples.get(0).file().path() + " has no JSON records to draft from");
    }
    evidence.add(
        new Evidence(
            "kind",
            "json",
            records
                .map(path -> "one document with many records at " + path)
                .orElse("%,d values sampled".formatted(statistics.records())),
            false));
    List<String> beside = records.map(document::beside).orElse(List.of());
    if (!beside.isEmpty()) {
      evidence.add(
          new Evidence(
              "beside",
              Evidence.some(beside),
              "not read: a feed reads one array; carry adds members to its records",
              true));
    }
    List<TableDraft> tables = new ArrayList<>();
    List<String> rare = new ArrayList<>();
    List<ColumnDraft> columns = columns("$", rare);
    tables.add(
        new TableDraft(name, layout, columns, List.of(), evidence, Optional.of(statistics), rare));
    Optional<ColumnDraft> key = columns.stream().filter(ColumnDraft::unique).findFirst();
    for (PathStatistics.Path path : statistics.paths()) {
      boolean rows =
          path.text().endsWith("[*]")
              && path.kinds().containsKey(JsonTree.Kind.OBJECT)
              && path.text().indexOf("[*]") == path.text().length() - 3;
      if (rows) {
        tables.add(rows(name, layout, path, key, common));
      }
    }
    return tables;
  }

  /** The columns of the records as a given layout finds them. */
  TableDraft table(String name, JsonLayout layout) throws IOException {
    gather(layout);
    return new TableDraft(
        name,
        layout,
        columns(layout.rows().map(JsonDraft::element).orElse("$"), new ArrayList<>()),
        List.of(),
        List.of(),
        Optional.of(statistics),
        List.of());
  }

  private static String element(String rows) {
    return rows.endsWith("[*]") ? rows : rows + "[*]";
  }

  private TableDraft rows(
      String name,
      JsonLayout layout,
      PathStatistics.Path path,
      Optional<ColumnDraft> key,
      List<Evidence> common) {
    String array = path.text().substring(0, path.text().length() - 3);
    String last = array.substring(Math.max(array.lastIndexOf('.'), array.lastIndexOf('[')) + 1);
    String rowsName = name + "_" + SqlNames.of(last, 1);
    List<Evidence> evidence = new ArrayList<>(common);
    evidence.add(
        new Evidence(
            "rows",
            path.text(),
            "an array of objects in %,d of %,d records, %,d elements"
                .formatted(path.records(), statistics.records(), path.count()),
            false));
    key.ifPresent(
        k ->
            evidence.add(
                new Evidence(
                    "parent",
                    k.column().name(),
                    "it is different in each record of the sample, so rows can be joined",
                    false)));
    List<ColumnDraft> columns = new ArrayList<>();
    key.ifPresent(k -> columns.add(new ColumnDraft(k.column(), k.because(), false, false)));
    List<String> rare = new ArrayList<>();
    columns.addAll(columns(path.text(), rare));
    JsonLayout rowLayout =
        new JsonLayout(
            rowsName,
            layout.form(),
            layout.records(),
            Optional.of(path.text()),
            EmptyRows.NONE,
            layout.carry(),
            layout.encoding(),
            layout.nulls(),
            layout.recordLimit());
    return new TableDraft(
        rowsName, rowLayout, unique(columns), List.of(), evidence, Optional.empty(), rare);
  }

  /** Columns whose names would be the same get numbers. */
  private static List<ColumnDraft> unique(List<ColumnDraft> columns) {
    List<String> names = SqlNames.of(columns.stream().map(c -> c.column().name()).toList());
    List<ColumnDraft> result = new ArrayList<>();
    for (int i = 0; i < names.size(); i++) {
      ColumnDraft c = columns.get(i);
      result.add(
          new ColumnDraft(
              new dev.dusky.core.feed.FeedColumn(
                  names.get(i),
                  c.column().type(),
                  c.column().notNull(),
                  c.column().from(),
                  c.column().pattern(),
                  c.column().zone(),
                  c.column().marks(),
                  c.column().defaultText(),
                  c.column().value(),
                  c.column().check()),
              c.because(),
              c.doubtful(),
              c.unique()));
    }
    return result;
  }

  private void gather(JsonLayout layout) throws IOException {
    JsonTree tree = new JsonTree();
    for (FileSample sample : samples) {
      byte[] bytes = layout.records().isPresent() ? sample.head() : sample.lines();
      int before = statistics.records();
      try (JsonReader reader =
          new JsonReader(
              sample.file().path(),
              new ByteArrayInputStream(bytes),
              layout,
              FieldRequest.of(List.of()))) {
        RecordBatch batch = new RecordBatch(64 << 10);
        while (statistics.records() - before < RECORDS && reader.read(batch)) {
          for (int r = 0; r < batch.records(); r++) {
            byte[] raw = batch.raw(r);
            if (batch.fault(r) == null && tree.read(raw, 0, raw.length)) {
              statistics.add(tree);
            }
          }
        }
      } catch (Failure cutOff) {
        if (sample.whole()) {
          throw cutOff;
        }
        // the sample holds the beginning of a document only: what was read is enough
      }
    }
  }

  /** The columns of what is below a path. */
  private List<ColumnDraft> columns(String root, List<String> rare) {
    int records = statistics.records();
    int parents = records;
    Map<String, PathStatistics.Path> inside = new LinkedHashMap<>();
    for (PathStatistics.Path path : statistics.paths()) {
      if (path.text().equals(root)) {
        parents = path.count();
      }
      String rest = path.text().startsWith(root) ? path.text().substring(root.length()) : "";
      if (!rest.isEmpty() && !rest.contains("[*]")) {
        inside.put(rest, path);
      }
    }
    Set<String> whole = new java.util.LinkedHashSet<>();
    List<String> names = new ArrayList<>();
    List<PathStatistics.Path> chosen = new ArrayList<>();
    List<Boolean> json = new ArrayList<>();
    for (Map.Entry<String, PathStatistics.Path> entry : inside.entrySet()) {
      PathStatistics.Path path = entry.getValue();
      if (whole.stream().anyMatch(w -> path.text().startsWith(w))) {
        continue;
      }
      boolean object = path.kinds().containsKey(JsonTree.Kind.OBJECT);
      boolean array = path.kinds().containsKey(JsonTree.Kind.ARRAY);
      boolean scalar = !path.isStructure();
      boolean mixed = scalar && (object || array) || object && array;
      boolean ofObjects =
          statistics.paths().stream()
              .anyMatch(
                  p ->
                      p.text().equals(path.text() + "[*]")
                          && p.kinds().containsKey(JsonTree.Kind.OBJECT));
      if (path.count() < parents * RARE) {
        rare.add(path.text());
        whole.add(path.text());
        continue;
      }
      if (object && !mixed || array && !mixed && ofObjects && root.equals("$")) {
        continue; // its members are columns, its elements rows
      }
      if (mixed || array) {
        whole.add(path.text());
      }
      names.add(entry.getKey().replaceAll("[\\[\\]\"]+", "_"));
      chosen.add(path);
      json.add(mixed || array);
    }
    List<String> sql = SqlNames.of(names);
    List<ColumnDraft> columns = new ArrayList<>();
    for (int i = 0; i < chosen.size(); i++) {
      columns.add(column(sql.get(i), root, chosen.get(i), json.get(i), parents));
    }
    return columns;
  }

  private static ColumnDraft column(
      String name, String root, PathStatistics.Path path, boolean json, int parents) {
    String rest = path.text().substring(root.length());
    boolean own = rest.equals("." + name);
    FieldSource from = own ? new FieldSource.Next() : new FieldSource.Named(path.text());
    Set<JsonTree.Kind> kinds = path.kinds().keySet();
    boolean anyNumber = kinds.contains(JsonTree.Kind.NUMBER);
    boolean anyText = kinds.contains(JsonTree.Kind.STRING);
    boolean anyTruth = kinds.contains(JsonTree.Kind.TRUE) || kinds.contains(JsonTree.Kind.FALSE);
    int nulls = path.kinds().getOrDefault(JsonTree.Kind.NULL, 0);
    List<String> values = path.values();
    ColumnGuess guess = ColumnGuess.of(values, Optional.empty());
    boolean number = guess.type().kind().isNumber();
    if (json) {
      guess = of(SqlType.of(TypeKind.JSON), "objects, arrays or values of several kinds");
    } else if (anyText && (anyNumber || anyTruth) || anyNumber && anyTruth || anyText && number) {
      int room = ColumnGuess.roomy(path.longest());
      guess =
          of(
              SqlType.of(TypeKind.VARCHAR, room),
              anyText && !anyNumber && !anyTruth
                  ? "strings of digits, which stay as they are"
                  : "strings, numbers or truth values");
    }
    // The path was in this many places; missing ones are nulls.
    int there = path.count() - nulls;
    int sampled = Math.min(values.size(), there);
    int records = there == parents ? sampled : sampled + Math.max(1, parents - there);
    if (json) {
      FeedColumn column = FeedColumn.plain(name, guess.type(), false).withFrom(from);
      return new ColumnDraft(column, guess.because(), false, false);
    }
    return ColumnDraft.of(name, from, guess, values, records);
  }

  private static ColumnGuess of(SqlType type, String because) {
    return new ColumnGuess(
        type,
        Optional.empty(),
        dev.dusky.core.type.NumberMarks.PLAIN,
        because,
        false,
        Optional.empty());
  }
}
