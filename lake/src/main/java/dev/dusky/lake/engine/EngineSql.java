package dev.dusky.lake.engine;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.type.SqlType;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Standard SQL in the words of the engine. Only what would mean something else there is changed:
 * how names and texts are quoted (in the engine a text between double quotes is a value, and a
 * doubled quote ends one text and begins the next), the names of types behind {@code as} in a
 * {@code cast}, and {@code fetch first}.
 */
final class EngineSql {

  private static final Pattern FETCH =
      Pattern.compile("\\Gfetch\\s+first\\s+(\\d+)\\s+rows?\\s+only", Pattern.CASE_INSENSITIVE);

  private static final Pattern WORD = Pattern.compile("\\G[A-Za-z_][A-Za-z_0-9]*");

  private final String sql;
  private final StringBuilder out = new StringBuilder();
  private final Deque<Boolean> casts = new ArrayDeque<>();
  private int at;

  private EngineSql(String sql) {
    this.sql = sql;
  }

  /** The statement for the engine. */
  static String of(String sql) {
    return new EngineSql(sql).translate();
  }

  private String translate() {
    String before = "";
    while (at < sql.length()) {
      char c = sql.charAt(at);
      if (c == '\'') {
        text();
      } else if (c == '"') {
        name();
      } else if (sql.startsWith("--", at)) {
        copy(end("\n"));
      } else if (sql.startsWith("/*", at)) {
        copy(end("*/"));
      } else if (c == '(') {
        casts.push(before.equals("cast"));
        copy(at + 1);
        before = "";
      } else if (c == ')') {
        casts.poll();
        copy(at + 1);
        before = "";
      } else if (Character.isLetter(c) || c == '_') {
        before = word();
      } else if (Character.isWhitespace(c)) {
        copy(at + 1);
      } else {
        copy(at + 1);
        before = "";
      }
    }
    return out.toString();
  }

  private void copy(int until) {
    out.append(sql, at, until);
    at = until;
  }

  private int end(String mark) {
    int found = sql.indexOf(mark, at + 1);
    return found < 0 ? sql.length() : found + mark.length();
  }

  /** A text: the engine takes a backslash for the beginning of an escape, and knows no other. */
  private void text() {
    out.append('\'');
    for (at++; at < sql.length(); at++) {
      char c = sql.charAt(at);
      if (c == '\'' && at + 1 < sql.length() && sql.charAt(at + 1) == '\'') {
        out.append("\\'");
        at++;
      } else if (c == '\'') {
        break;
      } else if (c == '\\') {
        out.append("\\\\");
      } else {
        out.append(c);
      }
    }
    out.append('\'');
    at++;
  }

  private void name() {
    out.append('`');
    for (at++; at < sql.length(); at++) {
      char c = sql.charAt(at);
      if (c == '"' && at + 1 < sql.length() && sql.charAt(at + 1) == '"') {
        out.append('"');
        at++;
      } else if (c == '"') {
        break;
      } else {
        out.append(c == '`' ? "``" : String.valueOf(c));
      }
    }
    out.append('`');
    at++;
  }

  private String word() {
    Matcher fetch = FETCH.matcher(sql);
    if (fetch.find(at)) {
      out.append("limit ").append(fetch.group(1));
      at = fetch.end();
      return "";
    }
    Matcher word = WORD.matcher(sql);
    if (!word.find(at)) {
      copy(at + 1);
      return "";
    }
    String name = word.group().toLowerCase(Locale.ROOT);
    copy(word.end());
    if (name.equals("as") && Boolean.TRUE.equals(casts.peek())) {
      type();
    }
    return name;
  }

  private void type() {
    int depth = 0;
    int from = at;
    while (at < sql.length() && (depth > 0 || sql.charAt(at) != ')')) {
      depth += sql.charAt(at) == '(' ? 1 : sql.charAt(at) == ')' ? -1 : 0;
      at++;
    }
    String written = sql.substring(from, at).strip();
    if (written.equalsIgnoreCase("numeric") || written.equalsIgnoreCase("decimal")) {
      throw Failure.configuration("The statement has a cast to " + written)
          .because("it does not say how many digits, and the engine would cut fractions off")
          .hint("Write %s with its digits, such as %s(18, 2)".formatted(written, written));
    }
    Optional<SqlType> type = SqlType.parse(written);
    out.append(' ').append(type.map(EngineTypes::name).orElse(written));
  }
}
