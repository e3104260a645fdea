package dev.dusky.core.draft;

import dev.dusky.core.type.TypeKind;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Tells whether the first record of a table names its columns. */
final class Headers {

  private Headers() {}

  static boolean isHeader(List<List<String>> rows) {
    if (rows.isEmpty()) {
      return false;
    }
    List<String> first = rows.get(0);
    Set<String> distinct = new HashSet<>();
    int names = 0;
    for (String name : first) {
      if (name == null || name.isBlank()) {
        continue;
      }
      if (!distinct.add(name) && rows.size() > 1 && !likeName(name)) {
        return false;
      }
      TypeKind kind = ColumnGuess.of(List.of(name), Optional.empty()).type().kind();
      if (kind.isNumber()
          || kind.isTemporal()
          || kind == TypeKind.UUID
          || name.strip().matches("[-+]?[\\d.,:/ ]+")) {
        return false; // a number or date is no name
      }
      names++;
    }
    if (names == 0 || names * 2 < first.size()) {
      return false;
    }
    if (rows.size() == 1) {
      return true;
    }
    int typed = 0;
    int different = 0;
    int texts = 0;
    for (int c = 0; c < first.size(); c++) {
      List<String> below = new ArrayList<>();
      for (List<String> row : rows.subList(1, Math.min(rows.size(), 500))) {
        if (c < row.size() && row.get(c) != null) {
          below.add(row.get(c));
        }
      }
      if (below.isEmpty() || first.get(c) == null) {
        continue;
      }
      if (!ColumnGuess.of(below, Optional.empty()).type().kind().isText()) {
        typed++;
        continue;
      }
      texts++;
      String name = first.get(c);
      boolean shape = below.stream().noneMatch(v -> shape(v).equals(shape(name)));
      boolean seen = below.contains(name);
      different += !seen && (shape || likeName(name)) ? 1 : 0;
    }
    if (typed > 0) {
      return true;
    }
    long like = first.stream().filter(name -> name != null && likeName(name)).count();
    return texts > 0 && different == texts && like * 3 >= first.size() * 2L;
  }

  /** Letters as a, digits as 0, runs as one. */
  private static String shape(String text) {
    return text.replaceAll("\\p{Lu}+", "A").replaceAll("\\p{Ll}+", "a").replaceAll("\\d+", "0");
  }

  private static boolean likeName(String text) {
    return text.strip().matches("[\\p{L}_][\\p{L}\\p{N}_ .()/%#-]{0,62}");
  }
}
