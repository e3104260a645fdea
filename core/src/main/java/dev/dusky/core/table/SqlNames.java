package dev.dusky.core.table;

import java.text.Normalizer;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** Makes valid SQL names from the names of fields. */
public final class SqlNames {

  /** Words that would have to be quoted in PostgreSQL or H2. */
  private static final Set<String> RESERVED =
      Set.of(
          "all",
          "analyse",
          "analyze",
          "and",
          "any",
          "array",
          "as",
          "asc",
          "authorization",
          "between",
          "both",
          "by",
          "case",
          "cast",
          "check",
          "collate",
          "column",
          "constraint",
          "create",
          "cross",
          "current_date",
          "current_time",
          "current_timestamp",
          "current_user",
          "day",
          "default",
          "deferrable",
          "desc",
          "distinct",
          "do",
          "else",
          "end",
          "except",
          "exists",
          "false",
          "fetch",
          "for",
          "foreign",
          "from",
          "full",
          "grant",
          "group",
          "having",
          "hour",
          "if",
          "in",
          "initially",
          "inner",
          "intersect",
          "interval",
          "into",
          "is",
          "join",
          "key",
          "lateral",
          "leading",
          "left",
          "like",
          "limit",
          "localtime",
          "localtimestamp",
          "minus",
          "minute",
          "month",
          "natural",
          "not",
          "null",
          "offset",
          "on",
          "only",
          "or",
          "order",
          "outer",
          "placing",
          "primary",
          "qualify",
          "references",
          "returning",
          "right",
          "row",
          "rownum",
          "second",
          "select",
          "session_user",
          "set",
          "some",
          "symmetric",
          "system_user",
          "table",
          "then",
          "to",
          "top",
          "trailing",
          "true",
          "union",
          "unique",
          "unknown",
          "user",
          "using",
          "value",
          "values",
          "variadic",
          "when",
          "where",
          "window",
          "with",
          "year");

  private SqlNames() {}

  /** A name of lower-case letters, digits and underscores for each given one; all different. */
  public static List<String> of(List<String> names) {
    List<String> result = new ArrayList<>();
    Set<String> taken = new HashSet<>();
    for (int i = 0; i < names.size(); i++) {
      String name = of(names.get(i), i + 1);
      String unique = name;
      for (int n = 2; !taken.add(unique); n++) {
        unique = name + "_" + n;
      }
      result.add(unique);
    }
    return result;
  }

  /** A name for one field. */
  public static String of(String name, int position) {
    String plain =
        Normalizer.normalize(
                name.replace("ß", "ss").replace("ø", "o").replace("Ø", "O").replace("æ", "ae"),
                Normalizer.Form.NFD)
            .replaceAll("\\p{M}+", "")
            .replaceAll("([a-z0-9])([A-Z])", "$1_$2")
            .replace("%", " percent ")
            .toLowerCase(Locale.ROOT)
            .replaceAll("[^a-z0-9]+", "_")
            .replaceAll("^_+|_+$", "");
    if (plain.isEmpty()) {
      return "field_" + position;
    }
    String safe = Character.isDigit(plain.charAt(0)) ? "n" + plain : plain;
    safe = RESERVED.contains(safe) || safe.startsWith("dusky_") ? safe + "_" : safe;
    return safe.length() > 60 ? safe.substring(0, 60) : safe;
  }
}
