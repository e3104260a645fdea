package dev.dusky.core.draft;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.FieldNaming;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.table.SqlNames;
import java.io.IOException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** Drafts delimited text and text of fixed width. */
final class TextDraft {

  private static final int ROWS = 20_000;

  private final List<FileSample> samples;
  private List<String> shiftedNames = List.of();

  TextDraft(List<FileSample> samples) {
    this.samples = samples;
  }

  TableDraft table(String name, List<Evidence> common) throws IOException {
    List<Evidence> evidence = new ArrayList<>(common);
    FileSample first = samples.get(0);
    Encoding encoding = Encoding.UTF_8;
    for (FileSample sample : samples) {
      Encoding own = ContentKind.encoding(sample.head());
      encoding = own == null || own == Encoding.UTF_8 ? encoding : own;
    }
    evidence.add(
        new Evidence(
            "encoding",
            encoding.label(),
            encoding == Encoding.UTF_8
                ? "every byte is valid UTF-8"
                : encoding.label().startsWith("utf-16")
                    ? "every other byte is zero, or there is a byte order mark"
                    : "bytes above 0x7F that are not UTF-8",
            encoding == Encoding.ISO_8859_1));
    String text = ContentKind.text(first.lines(), encoding);
    DelimitedGuess delimited = new DelimitedGuess(first.lines(), encoding);
    Optional<DelimitedLayout> layout = delimited.guess();
    FixedGuess fixed = new FixedGuess(text, encoding);
    Optional<FixedLayout> places = fixed.guess();
    if (layout.isEmpty() && places.isPresent()) {
      evidence.add(new Evidence("kind", "fixed", "no delimiter splits the lines evenly", false));
      evidence.addAll(fixed.evidence());
      return fixed(name, places.get(), evidence);
    }
    if (layout.isEmpty()) {
      layout = Optional.of(oneColumn(encoding, text));
    }
    evidence.add(new Evidence("kind", "delimited", "text in lines", false));
    evidence.addAll(delimited.evidence());
    shiftedNames = delimited.shiftedNames();
    return delimited(name, layout.get(), evidence);
  }

  /** Lines of one field each. */
  private static DelimitedLayout oneColumn(Encoding encoding, String text) {
    DelimitedLayout plain = DelimitedLayout.plain("draft");
    List<List<String>> rows =
        text.lines().filter(l -> !l.isBlank()).limit(500).map(List::of).toList();
    return new DelimitedLayout(
        "draft",
        plain.delimiter(),
        plain.quote(),
        plain.escape(),
        Headers.isHeader(rows) ? HeaderUse.NAMES : HeaderUse.ABSENT,
        0,
        "",
        List.of(""),
        false,
        false,
        false,
        ShortRecords.REJECT,
        plain.longRecords(),
        encoding,
        plain.lineEnd(),
        plain.recordLimit(),
        plain.fieldLimit());
  }

  /** The records of all samples; later pieces have no header. */
  private TextTable all(Layout layout, Layout headless) throws IOException {
    List<List<String>> rows = new ArrayList<>();
    List<String> names = List.of();
    int broken = 0;
    for (FileSample sample : samples) {
      TextTable head = TextTable.read(sample.lines(), layout, FieldRequest.of(List.of()), ROWS);
      names = names.isEmpty() ? head.names() : names;
      rows.addAll(head.rows());
      broken += head.broken();
      for (byte[] piece : sample.pieces()) {
        if (piece.length > 0) {
          rows.addAll(TextTable.read(piece, headless, FieldRequest.of(List.of()), ROWS).rows());
        }
      }
    }
    return new TextTable(names, rows, List.of(), broken);
  }

  private TableDraft delimited(String name, DelimitedLayout guessed, List<Evidence> evidence)
      throws IOException {
    TextTable table = all(guessed, headless(guessed));
    if (table.rows().isEmpty()) {
      throw Failure.file(samples.get(0).file().path() + " has no rows to draft from");
    }
    Set<String> doubtful = new TreeSet<>();
    List<String> nulls = DelimitedGuess.nulls(table, 0, doubtful);
    if (nulls.size() > 1) {
      evidence.add(
          new Evidence(
              "nulls",
              String.join(" ", nulls.subList(1, nulls.size())),
              doubtful.isEmpty()
                  ? "among values of another form"
                  : "in columns of texts too, where it may be a value: "
                      + String.join(" ", doubtful),
              !doubtful.isEmpty()));
    }
    boolean header = guessed.header() == HeaderUse.NAMES;
    DelimitedLayout layout =
        new DelimitedLayout(
            name,
            guessed.delimiter(),
            guessed.quote(),
            guessed.escape(),
            guessed.header(),
            guessed.skipLines(),
            guessed.comment(),
            nulls,
            false,
            guessed.trim(),
            guessed.trailingDelimiter(),
            guessed.shortRecords(),
            guessed.longRecords(),
            guessed.encoding(),
            guessed.lineEnd(),
            guessed.recordLimit(),
            guessed.fieldLimit());
    int width = header ? table.names().size() : table.width();
    List<String> given = new ArrayList<>();
    for (int i = 0; i < width; i++) {
      boolean named = i > 0 && i <= shiftedNames.size();
      given.add(header ? table.names().get(i) : named ? shiftedNames.get(i - 1) : "");
    }
    return new TableDraft(
        name,
        layout,
        columns(given, table, nulls, header, PathDates.of(samples)),
        List.of(),
        evidence,
        Optional.empty(),
        List.of());
  }

  /** The columns of a file as a given layout of text or cells finds them. */
  static TableDraft table(String name, FileSample sample, Layout layout) throws IOException {
    TextTable table =
        TextTable.read(
            TableDraft.readable(layout, sample), layout, FieldRequest.of(List.of()), ROWS);
    boolean named = layout.naming() != FieldNaming.POSITION;
    List<String> given = new ArrayList<>();
    for (int i = 0; i < (named ? table.names().size() : table.width()); i++) {
      given.add(named ? table.names().get(i) : "");
    }
    return new TableDraft(
        name,
        layout,
        columns(given, table, layout.nulls(), named),
        List.of(),
        List.of(),
        Optional.empty(),
        List.of());
  }

  private static DelimitedLayout headless(DelimitedLayout l) {
    return new DelimitedLayout(
        l.name(),
        l.delimiter(),
        l.quote(),
        l.escape(),
        HeaderUse.ABSENT,
        0,
        l.comment(),
        l.nulls(),
        l.nullsInQuotes(),
        l.trim(),
        l.trailingDelimiter(),
        l.shortRecords(),
        l.longRecords(),
        l.encoding(),
        l.lineEnd(),
        l.recordLimit(),
        l.fieldLimit());
  }

  private TableDraft fixed(String name, FixedLayout guessed, List<Evidence> evidence)
      throws IOException {
    FixedLayout layout =
        new FixedLayout(
            name,
            guessed.fields(),
            0,
            Optional.empty(),
            guessed.skipLines(),
            guessed.shortRecords(),
            guessed.encoding(),
            guessed.nulls(),
            guessed.recordLimit());
    FixedLayout headless =
        new FixedLayout(
            name,
            guessed.fields(),
            0,
            Optional.empty(),
            0,
            guessed.shortRecords(),
            guessed.encoding(),
            guessed.nulls(),
            guessed.recordLimit());
    TextTable table = all(layout, headless);
    List<String> names = layout.fields().stream().map(f -> f.name()).toList();
    return new TableDraft(
        name,
        layout,
        columns(names, table, List.of(""), true),
        List.of(),
        evidence,
        Optional.empty(),
        List.of());
  }

  /** Types for the fields of a table. */
  static List<ColumnDraft> columns(
      List<String> given, TextTable table, List<String> nulls, boolean named) {
    return columns(given, table, nulls, named, Set.of());
  }

  /** The same, with the dates in the files' paths, which can distinguish day and month. */
  private static List<ColumnDraft> columns(
      List<String> given,
      TextTable table,
      List<String> nulls,
      boolean named,
      Set<LocalDate> pathDates) {
    List<String> names = SqlNames.of(given);
    List<List<String>> values = new ArrayList<>();
    for (int c = 0; c < given.size(); c++) {
      values.add(table.values(c).stream().filter(v -> !v.isEmpty() && !nulls.contains(v)).toList());
    }
    Optional<Boolean> told =
        values.stream()
            .map(
                v ->
                    v.isEmpty()
                        ? Optional.<Boolean>empty()
                        : ColumnGuess.of(v, Optional.empty()).dayFirst())
            .flatMap(Optional::stream)
            .findFirst();
    Optional<Boolean> dayFirst = told.or(() -> PathDates.dayFirst(pathDates, values));
    List<ColumnDraft> columns = new ArrayList<>();
    for (int c = 0; c < given.size(); c++) {
      boolean same = given.get(c).equalsIgnoreCase(names.get(c)) && onlyOnce(given, c);
      FieldSource from =
          !named || same
              ? new FieldSource.Next()
              : onlyOnce(given, c) && !given.get(c).isBlank()
                  ? new FieldSource.Named(given.get(c))
                  : new FieldSource.At(c + 1);
      columns.add(
          ColumnDraft.of(
              names.get(c),
              from,
              ColumnGuess.of(values.get(c), dayFirst),
              values.get(c),
              table.rows().size()));
    }
    return columns;
  }

  private static boolean onlyOnce(List<String> names, int at) {
    return names.stream().filter(n -> n.equalsIgnoreCase(names.get(at))).count() == 1;
  }
}
