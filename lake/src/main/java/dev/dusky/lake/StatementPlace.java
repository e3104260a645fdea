package dev.dusky.lake;

import java.util.regex.Pattern;

/** Where a statement belongs: to the ledger's database, or to the engine. */
final class StatementPlace {

  /** What names nothing: texts and comments. */
  private static final Pattern WORDLESS =
      Pattern.compile("'(?:[^']|'')*+'|--[^\n]*+|/\\*.*?\\*/", Pattern.DOTALL);

  private static final Pattern LEDGER =
      Pattern.compile(
          "(?<![\\w.\"])(?:dusky|\"dusky\")\\s*\\.|\\binformation_schema\\s*\\.|\\biceberg_tables\\b",
          Pattern.CASE_INSENSITIVE);

  private StatementPlace() {}

  /** Whether it names tables of the ledger, or of the database that it is in. */
  static boolean isLedger(String sql) {
    return LEDGER.matcher(WORDLESS.matcher(sql).replaceAll(" ")).find();
  }
}
