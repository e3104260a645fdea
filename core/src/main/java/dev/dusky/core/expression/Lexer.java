package dev.dusky.core.expression;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Splits an expression into tokens. */
final class Lexer {

  /** The kind of a token. */
  enum Kind {
    NAME,
    QUOTED_NAME,
    TEXT,
    NUMBER,
    SYMBOL,
    END
  }

  /** A token: names in lower case unless quoted, texts without their quotes. */
  record Token(Kind kind, String text, int at) {}

  private static final List<String> SYMBOLS =
      List.of(
          "<>", "!=", "<=", ">=", "||", "::", "<", ">", "=", "+", "-", "*", "/", "%", "(", ")", ",",
          ".");

  private final String text;
  private final List<Token> tokens = new ArrayList<>();
  private int at;

  private Lexer(String text) {
    this.text = text;
  }

  static List<Token> tokens(String text) {
    Lexer lexer = new Lexer(text);
    lexer.run();
    return lexer.tokens;
  }

  private void run() {
    while (true) {
      passBlanks();
      if (at >= text.length()) {
        tokens.add(new Token(Kind.END, "the end", at));
        return;
      }
      char c = text.charAt(at);
      if (c == '\'') {
        tokens.add(quoted('\'', Kind.TEXT));
      } else if (c == '"') {
        tokens.add(quoted('"', Kind.QUOTED_NAME));
      } else if (isDigit(c) || c == '.' && at + 1 < text.length() && isDigit(text.charAt(at + 1))) {
        tokens.add(number());
      } else if (Character.isLetter(c) || c == '_') {
        int from = at;
        while (at < text.length()
            && (Character.isLetterOrDigit(text.charAt(at)) || text.charAt(at) == '_')) {
          at++;
        }
        tokens.add(new Token(Kind.NAME, text.substring(from, at).toLowerCase(Locale.ROOT), from));
      } else {
        tokens.add(symbol());
      }
    }
  }

  private void passBlanks() {
    while (at < text.length()) {
      if (Character.isWhitespace(text.charAt(at))) {
        at++;
      } else if (text.startsWith("--", at)) {
        int end = text.indexOf('\n', at);
        at = end < 0 ? text.length() : end;
      } else {
        return;
      }
    }
  }

  private Token quoted(char quote, Kind kind) {
    int from = at++;
    StringBuilder inside = new StringBuilder();
    while (true) {
      if (at >= text.length()) {
        throw new ExpressionFault(from, "the quote that opens here is never closed");
      }
      char c = text.charAt(at++);
      if (c != quote) {
        inside.append(c);
      } else if (at < text.length() && text.charAt(at) == quote) {
        inside.append(quote);
        at++;
      } else {
        return new Token(kind, inside.toString(), from);
      }
    }
  }

  private Token number() {
    int from = at;
    digits();
    if (at < text.length() && text.charAt(at) == '.') {
      at++;
      digits();
    }
    if (at < text.length() && (text.charAt(at) | 0x20) == 'e') {
      int mark = at++;
      if (at < text.length() && (text.charAt(at) == '+' || text.charAt(at) == '-')) {
        at++;
      }
      int before = at;
      digits();
      at = at == before ? mark : at;
    }
    if (at < text.length() && (Character.isLetter(text.charAt(at)) || text.charAt(at) == '_')) {
      throw new ExpressionFault(at, "a number must not run into a name");
    }
    return new Token(Kind.NUMBER, text.substring(from, at), from);
  }

  private void digits() {
    while (at < text.length() && isDigit(text.charAt(at))) {
      at++;
    }
  }

  private static boolean isDigit(char c) {
    return c >= '0' && c <= '9';
  }

  private Token symbol() {
    for (String symbol : SYMBOLS) {
      if (text.startsWith(symbol, at)) {
        at += symbol.length();
        return new Token(Kind.SYMBOL, symbol, at - symbol.length());
      }
    }
    throw new ExpressionFault(at, "'" + text.charAt(at) + "' is not allowed here");
  }
}
