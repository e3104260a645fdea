package dev.dusky.core.draft;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.LineEnd;
import dev.dusky.core.layout.LongRecords;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.record.FieldRequest;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** Works out how delimited text is written, from a sample of it. */
final class DelimitedGuess {

  private static final int ROWS = 3_000;

  private final byte[] sample;
  private final Encoding encoding;
  private final List<Evidence> evidence = new ArrayList<>();
  private List<String> shiftedNames = List.of();

  private record Trial(
      DelimitedLayout layout, TextTable table, int fields, double share, double nearly) {

    double score() {
      double broken = table.broken() / (1.0 + table.rows().size());
      // Records that lack their last field speak for a delimiter nearly as much as whole ones;
      // colons are in every time of day.
      double colon = layout.delimiter().equals(":") ? 0.4 : 0;
      double unusual = Delimiters.isUsual(layout.delimiter()) ? 0 : 0.02;
      double told = share + 0.9 * nearly;
      double columns = Math.min(fields, 40) * 0.002;
      return told * (1 - broken) + columns - 0.2 * emptyShare() - oddities() - colon - unusual;
    }

    /**
     * Whether an unusual sign splits the records into columns that all hold something. Colons are
     * in addresses of the web: they must be in the header, too.
     */
    boolean convincing() {
      if (layout.delimiter().equals(":")) {
        return table.rows().get(0).size() == fields;
      }
      return Delimiters.isUsual(layout.delimiter()) || emptyShare() == 0 && share > 0.9;
    }

    /** Whether it splits as another reading does, by more of what is between the fields. */
    boolean isLongerOf(Trial other) {
      String shorter = other.layout.delimiter();
      return layout.delimiter().length() > shorter.length()
          && layout.delimiter().contains(shorter)
          && fields == other.fields
          && share >= other.share
          && layout.quote() == other.layout.quote();
    }

    /** The share of columns that never hold more than a sign that is part of a delimiter. */
    private double emptyShare() {
      boolean[] filled = new boolean[Math.max(1, table.width())];
      for (List<String> row : table.rows().subList(0, Math.min(200, table.rows().size()))) {
        for (int c = 0; c < row.size(); c++) {
          String value = row.get(c);
          filled[c] |= value != null && !value.isEmpty() && !value.equals("|");
        }
      }
      int empty = 0;
      for (boolean any : filled) {
        empty += any ? 0 : 1;
      }
      return empty / (double) filled.length;
    }

    /** Quotes left around values speak against a reading. */
    private double oddities() {
      int quoted = 0;
      int values = 0;
      for (List<String> row : table.rows().subList(0, Math.min(200, table.rows().size()))) {
        for (String value : row) {
          if (value != null && !value.isEmpty()) {
            values++;
            quoted += isQuoted(value) ? 1 : 0;
          }
        }
      }
      return 0.2 * quoted / Math.max(1, values);
    }

    /** Between quotes, or one half of what stood between them before a delimiter split it. */
    private static boolean isQuoted(String value) {
      char first = value.charAt(0);
      char last = value.charAt(value.length() - 1);
      boolean half = (first == '"') != (last == '"');
      return half || value.length() > 1 && first == last && (first == '"' || first == '\'');
    }
  }

  DelimitedGuess(byte[] sample, Encoding encoding) {
    this.sample = sample;
    this.encoding = encoding;
  }

  List<Evidence> evidence() {
    return evidence;
  }

  /** The names of the header if it has one fewer than there are fields; none if it has as many. */
  List<String> shiftedNames() {
    return shiftedNames;
  }

  /** The mark of comment lines before the table or between records, or an empty text. */
  private static String comment(String text) {
    for (String mark : List.of("#", "--", "//")) {
      List<String> lines = text.lines().filter(l -> !l.isBlank()).limit(2_000).toList();
      long marked = lines.stream().filter(l -> l.startsWith(mark)).count();
      boolean first = !lines.isEmpty() && lines.get(0).startsWith(mark);
      boolean header = marked == 1 && first && !lines.get(0).startsWith(mark + " ");
      boolean sentence = marked == 1 && first && lines.get(0).startsWith(mark + " ");
      if (marked < lines.size() && !header && (marked > 1 && first || sentence)) {
        return mark;
      }
    }
    return "";
  }

  /** The layout, or nothing if no delimiter splits the lines evenly. */
  Optional<DelimitedLayout> guess() throws IOException {
    Trial best = null;
    String text = ContentKind.text(sample, encoding);
    String comment = comment(text);
    for (String delimiter : Delimiters.candidates(text)) {
      for (int quote : new int[] {'"', '\'', DelimitedLayout.NONE}) {
        Trial trial = withEscape(trial(plain(delimiter, quote, 0, comment)));
        boolean better =
            best == null || trial.score() > best.score() + 0.0005 || trial.isLongerOf(best);
        if (trial.fields() > 1 && trial.convincing() && better) {
          best = trial;
        }
      }
    }
    if (!comment.isEmpty()) {
      note("comment", comment, "such lines precede the table or are between records");
    }
    if (best == null || best.share() < 0.6) {
      return Optional.empty();
    }
    best = withEscape(withPreamble(best));
    if (best.layout().escape() >= 0) {
      note("escape", "\\", "backslashes before quotes");
    }
    DelimitedLayout layout = best.layout();
    evidence.add(
        new Evidence(
            "delimiter",
            Delimiters.shown(layout.delimiter()),
            "%d fields in %s of %,d records"
                .formatted(best.fields(), percent(best.share()), best.table().rows().size()),
            !Delimiters.isUsual(layout.delimiter())));
    layout = withTrim(layout, best.table());
    layout = withTrailing(layout, best);
    TextTable table = TextTable.read(sample, layout, FieldRequest.of(List.of()), ROWS);
    if (table.rows().isEmpty()) {
      return Optional.empty(); // nothing but broken records
    }
    Headers.Verdict verdict = Headers.judge(table.rows());
    boolean header = verdict.header();
    evidence.add(
        new Evidence(
            "header",
            header ? "yes" : "no",
            header
                ? "the first record reads like names: " + first(table)
                : "the first record reads like the others: " + first(table),
            verdict.doubtful()));
    int names = table.rows().get(0).size();
    boolean shifted = header && names > 1 && names == best.fields() - 1;
    if (shifted) {
      shiftedNames = table.rows().get(0).stream().map(v -> v == null ? "" : v).toList();
      evidence.add(
          new Evidence(
              "first column",
              "without a name",
              "the header has %d names, the records have %d fields".formatted(names, best.fields()),
              true));
      return Optional.of(with(layout, HeaderUse.SKIP, layout.shortRecords()));
    }
    layout = withHeader(layout, header);
    return Optional.of(withRagged(layout, table, header));
  }

  private static String first(TextTable table) {
    String text =
        String.join(", ", table.rows().get(0).stream().map(v -> v == null ? "" : v).toList());
    return text.length() > 60 ? text.substring(0, 59) + "\u2026" : text;
  }

  private static String percent(double share) {
    return "%.1f %%".formatted(share * 100);
  }

  private void note(String about, String decision, String because) {
    evidence.add(new Evidence(about, decision, because, false));
  }

  private DelimitedLayout plain(String delimiter, int quote, int skip, String comment) {
    return new DelimitedLayout(
        "draft",
        delimiter,
        quote,
        DelimitedLayout.NONE,
        HeaderUse.ABSENT,
        skip,
        comment,
        List.of(""),
        false,
        false,
        false,
        ShortRecords.REJECT,
        LongRecords.REJECT,
        encoding,
        LineEnd.AUTO,
        DelimitedLayout.DEFAULT_RECORD_LIMIT,
        DelimitedLayout.DEFAULT_FIELD_LIMIT);
  }

  private Trial trial(DelimitedLayout layout) throws IOException {
    TextTable table = TextTable.read(sample, layout, FieldRequest.of(List.of()), ROWS);
    Map<Integer, Integer> counts = new TreeMap<>();
    for (List<String> row : table.rows()) {
      counts.merge(row.size(), 1, Integer::sum);
    }
    int fields = 0;
    int most = 0;
    for (Map.Entry<Integer, Integer> entry : counts.entrySet()) {
      if (entry.getValue() >= most) {
        fields = entry.getKey();
        most = entry.getValue();
      }
    }
    double share = table.rows().isEmpty() ? 0 : most / (double) table.rows().size();
    int fewer = fields > 2 ? counts.getOrDefault(fields - 1, 0) : 0;
    double nearly = table.rows().isEmpty() ? 0 : fewer / (double) table.rows().size();
    return new Trial(layout, table, fields, share, nearly);
  }

  /** Titles above the table, and lines that are comments. */
  private Trial withPreamble(Trial trial) throws IOException {
    Trial best = trial;
    String text = ContentKind.text(sample, encoding);
    for (String mark : List.of("#", "--", "//")) {
      if (text.startsWith(mark) || text.contains("\n" + mark)) {
        DelimitedLayout with = plain(trial.layout().delimiter(), trial.layout().quote(), 0, mark);
        Trial commented = trial(with);
        if (commented.share() > best.share()) {
          best = commented;
          note("comment", mark, "such lines do not split like the others");
        }
      }
    }
    List<List<String>> rows = best.table().rows();
    int skip = 0;
    while (skip < Math.min(10, rows.size())
        && Headers.isTitle(rows.get(skip).size(), best.fields())) {
      skip++;
    }
    if (skip == 0 || skip == Math.min(10, rows.size())) {
      return best;
    }
    int lines = linesBefore(text, skip);
    Trial skipped =
        trial(
            plain(
                best.layout().delimiter(), best.layout().quote(), lines, best.layout().comment()));
    if (skipped.share() <= best.share()) {
      return best;
    }
    boolean split = rows.subList(0, skip).stream().anyMatch(row -> row.size() > 1);
    evidence.add(
        new Evidence("skip-lines", Integer.toString(lines), "lines above the table", split));
    return skipped;
  }

  /** How many physical lines the first records take, blank ones before and between included. */
  private static int linesBefore(String text, int records) {
    int lines = 0;
    int seen = 0;
    for (String line : text.lines().limit(40).toList()) {
      if (!line.isBlank() && seen++ == records) {
        return lines;
      }
      lines++;
    }
    return lines;
  }

  private Trial withEscape(Trial trial) throws IOException {
    DelimitedLayout l = trial.layout();
    boolean needless = trial.table().broken() == 0 || l.quote() < 0 || l.escape() >= 0;
    if (needless || !ContentKind.text(sample, encoding).contains("\\" + (char) l.quote())) {
      return trial;
    }
    DelimitedLayout escaped =
        new DelimitedLayout(
            l.name(),
            l.delimiter(),
            l.quote(),
            '\\',
            l.header(),
            l.skipLines(),
            l.comment(),
            l.nulls(),
            false,
            false,
            false,
            l.shortRecords(),
            l.longRecords(),
            encoding,
            l.lineEnd(),
            l.recordLimit(),
            l.fieldLimit());
    Trial with = trial(escaped);
    return with.score() > trial.score() ? with : trial;
  }

  private DelimitedLayout withTrim(DelimitedLayout l, TextTable table) {
    int padded = 0;
    int values = 0;
    for (List<String> row : table.rows()) {
      for (String value : row) {
        if (value != null && !value.isEmpty()) {
          values++;
          padded += value.equals(value.strip()) ? 0 : 1;
        }
      }
    }
    if (padded < values * 0.2) {
      return l;
    }
    note(
        "trim",
        "yes",
        "blanks around %s of the values".formatted(percent(padded / (double) values)));
    return new DelimitedLayout(
        l.name(),
        l.delimiter(),
        l.quote(),
        l.escape(),
        l.header(),
        l.skipLines(),
        l.comment(),
        l.nulls(),
        false,
        true,
        false,
        l.shortRecords(),
        l.longRecords(),
        encoding,
        l.lineEnd(),
        l.recordLimit(),
        l.fieldLimit());
  }

  private DelimitedLayout withTrailing(DelimitedLayout l, Trial trial) {
    boolean all =
        trial.table().rows().stream()
            .allMatch(row -> row.size() > 1 && row.get(row.size() - 1) == null);
    if (!all) {
      return l;
    }
    note("trailing-delimiter", "yes", "each record ends with one");
    return new DelimitedLayout(
        l.name(),
        l.delimiter(),
        l.quote(),
        l.escape(),
        l.header(),
        l.skipLines(),
        l.comment(),
        l.nulls(),
        false,
        l.trim(),
        true,
        l.shortRecords(),
        l.longRecords(),
        encoding,
        l.lineEnd(),
        l.recordLimit(),
        l.fieldLimit());
  }

  private DelimitedLayout withHeader(DelimitedLayout l, boolean header) {
    return with(l, header ? HeaderUse.NAMES : HeaderUse.ABSENT, l.shortRecords());
  }

  private DelimitedLayout with(DelimitedLayout l, HeaderUse header, ShortRecords shorter) {
    return new DelimitedLayout(
        l.name(),
        l.delimiter(),
        l.quote(),
        l.escape(),
        header,
        l.skipLines(),
        l.comment(),
        l.nulls(),
        l.nullsInQuotes(),
        l.trim(),
        l.trailingDelimiter(),
        shorter,
        l.longRecords(),
        encoding,
        l.lineEnd(),
        l.recordLimit(),
        l.fieldLimit());
  }

  private DelimitedLayout withRagged(DelimitedLayout l, TextTable table, boolean header) {
    int width = header ? table.rows().get(0).size() : table.width();
    long shorter = table.rows().stream().filter(row -> row.size() < width).count();
    if (shorter == 0 || shorter < table.rows().size() / 2000.0) {
      return l;
    }
    note(
        "short-records",
        "fill",
        "%s of the records have fewer than %d fields"
            .formatted(percent(shorter / (double) table.rows().size()), width));
    return with(l, l.header(), ShortRecords.FILL);
  }

  /** Texts that mean null in many files. */
  private static final Set<String> NULL_MARKS =
      Set.of(
          "n/a", "N/A", "NA", "na", "null", "NULL", "Null", "None", "none", "nil", "\\N", "-", "--",
          "?", "#N/A", "NaN", "nan", "missing", "unknown");

  static boolean isNullMark(String text) {
    return NULL_MARKS.contains(text);
  }

  /**
   * The texts that represent null in a table: known ones that are not like their columns.
   *
   * @param doubtful takes those of them that only columns of texts have
   */
  static List<String> nulls(TextTable table, int firstRow, Set<String> doubtful) {
    Set<String> known = NULL_MARKS;
    Set<String> found = new HashSet<>();
    Set<String> certain = new HashSet<>();
    for (int c = 0; c < table.width(); c++) {
      Set<String> marks = new HashSet<>();
      List<String> others = new ArrayList<>();
      for (List<String> row :
          table.rows().subList(Math.min(firstRow, table.rows().size()), table.rows().size())) {
        String value = c < row.size() ? row.get(c) : null;
        if (value != null && known.contains(value)) {
          marks.add(value);
        } else if (value != null && !value.isEmpty()) {
          others.add(value);
        }
      }
      boolean typed =
          !others.isEmpty()
              && !marks.isEmpty()
              && !ColumnGuess.of(others, Optional.empty()).type().kind().isText();
      for (String mark : marks) {
        boolean sure = List.of("n/a", "N/A", "null", "NULL", "\\N", "#N/A").contains(mark);
        if (typed || sure) {
          found.add(mark);
        }
        if (typed) {
          certain.add(mark);
        }
      }
    }
    doubtful.addAll(found);
    doubtful.removeAll(certain);
    List<String> nulls = new ArrayList<>(List.of(""));
    found.stream().sorted().forEach(nulls::add);
    return nulls;
  }
}
