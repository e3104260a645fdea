package dev.dusky.core.draft;

import dev.dusky.core.type.TypeKind;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Decides whether the first record of a table names its columns. */
final class Headers {

  /**
   * A verdict.
   *
   * @param header whether the first record names the columns
   * @param doubtful whether the evidence is weak
   */
  record Verdict(boolean header, boolean doubtful) {}

  private static final int ROWS = 500;

  /** Words that name columns in files of any kind, in lower case. */
  private static final Set<String> WORDS =
      Set.of(
          "id",
          "no",
          "nr",
          "name",
          "code",
          "date",
          "day",
          "time",
          "type",
          "kind",
          "state",
          "status",
          "city",
          "country",
          "region",
          "address",
          "street",
          "zip",
          "phone",
          "email",
          "amount",
          "price",
          "total",
          "value",
          "count",
          "quantity",
          "unit",
          "description",
          "comment",
          "note",
          "title",
          "category",
          "group",
          "key",
          "label",
          "year",
          "month",
          "first_name",
          "last_name",
          "currency",
          "language",
          "url",
          "sex",
          "gender",
          "age",
          "user",
          "customer");

  private Headers() {}

  /**
   * Whether a record with that many filled fields cannot belong to a table with that many columns.
   * One that fills nearly as many is the header, or data with a fault.
   */
  static boolean isTitle(long filled, long columns) {
    return filled == 1 && columns > 1 || filled * 2 <= columns && columns > 3;
  }

  static boolean isHeader(List<List<String>> rows) {
    return judge(rows).header();
  }

  static Verdict judge(List<List<String>> rows) {
    if (rows.isEmpty()) {
      return new Verdict(false, false);
    }
    List<String> first = rows.get(0);
    Set<String> distinct = new HashSet<>();
    int names = 0;
    for (String name : first) {
      if (name == null || name.isBlank()) {
        continue;
      }
      if (!distinct.add(name) && rows.size() > 1 && !likeName(name)) {
        return new Verdict(false, false);
      }
      TypeKind kind = ColumnGuess.of(List.of(name), Optional.empty()).type().kind();
      if (kind.isNumber()
          || kind.isTemporal()
          || kind == TypeKind.UUID
          || name.strip().matches("[-+]?[\\d.,:/ ]+")) {
        return new Verdict(false, false); // a number or date is not a name
      }
      names++;
    }
    if (names == 0 || names * 2 < first.size()) {
      return new Verdict(false, false);
    }
    if (rows.size() == 1) {
      return new Verdict(true, true);
    }
    return judge(first, rows.subList(1, Math.min(rows.size(), ROWS)));
  }

  private static Verdict judge(List<String> first, List<List<String>> rows) {
    double score = 0;
    int texts = 0;
    boolean typed = false;
    for (int c = 0; c < first.size(); c++) {
      List<String> below = new ArrayList<>();
      for (List<String> row : rows) {
        if (c < row.size() && row.get(c) != null && !DelimitedGuess.isNullMark(row.get(c))) {
          below.add(row.get(c));
        }
      }
      String name = first.get(c);
      if (below.isEmpty() || name == null) {
        continue;
      }
      if (!ColumnGuess.of(below, Optional.empty()).type().kind().isText()) {
        typed |= !DelimitedGuess.isNullMark(name);
        continue;
      }
      texts++;
      score += evidence(name, below);
    }
    if (typed) {
      return new Verdict(true, false);
    }
    long like = first.stream().filter(name -> name != null && likeName(name)).count();
    boolean header = texts > 0 && score > 0 && like * 3 >= first.size() * 2L;
    return new Verdict(header, Math.abs(score) < Math.max(1, texts * 0.6));
  }

  /** How much one column of texts speaks for a name on top of it; below 0 it speaks against. */
  private static double evidence(String name, List<String> below) {
    Map<String, Integer> shapes = new HashMap<>();
    int least = Integer.MAX_VALUE;
    int most = 0;
    int plain = 0;
    for (String value : below) {
      shapes.merge(shape(value), 1, Integer::sum);
      least = Math.min(least, value.length());
      most = Math.max(most, value.length());
      plain += isIdentifier(value) ? 1 : 0;
    }
    double score = likeName(name) ? 0 : -1;
    int distinct = new HashSet<>(below).size();
    boolean repeats = below.size() >= 6 && distinct * 2 <= below.size();
    if (below.contains(name)) {
      score -= 2;
    } else if (repeats) {
      score += 1.5; // a value that never comes again in a column of few values
    }
    double same = shapes.getOrDefault(shape(name), 0) / (double) below.size();
    boolean regular = shapes.size() <= Math.max(2, below.size() / 5);
    if (same == 0 && regular && below.size() >= 3) {
      score += 1;
    } else if (same >= 0.3) {
      score -= 0.75;
    }
    score += name.length() < least || name.length() > most ? 0.4 : 0;
    score += isIdentifier(name) && plain * 5 <= below.size() ? 0.5 : 0;
    return score + (WORDS.contains(name.strip().toLowerCase(java.util.Locale.ROOT)) ? 1 : 0);
  }

  private static boolean isIdentifier(String text) {
    return text.matches("[a-z][a-z0-9_]*");
  }

  /** Letters as a, digits as 0, runs as one. */
  private static String shape(String text) {
    return text.replaceAll("\\p{Lu}+", "A").replaceAll("\\p{Ll}+", "a").replaceAll("\\d+", "0");
  }

  private static boolean likeName(String text) {
    return text.strip().matches("[\\p{L}_#][\\p{L}\\p{N}_ .()/%#-]{0,62}");
  }
}
