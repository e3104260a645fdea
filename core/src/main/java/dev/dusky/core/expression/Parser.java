package dev.dusky.core.expression;

import dev.dusky.core.expression.Lexer.Kind;
import dev.dusky.core.expression.Lexer.Token;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Reads an expression by recursive descent. From loosest to tightest: or, and, not, is, comparison,
 * between/in/like, other operators, + and -, * / %, sign, ::. Each level has a method.
 */
final class Parser {

  private static final int MOST_DEPTH = 100;
  private static final Set<String> COMPARISONS = Set.of("=", "<>", "!=", "<", "<=", ">", ">=");
  private static final Set<String> RESERVED =
      Set.of(
          "and",
          "or",
          "not",
          "is",
          "in",
          "between",
          "like",
          "case",
          "when",
          "then",
          "else",
          "end",
          "cast",
          "null",
          "true",
          "false",
          "escape",
          "distinct",
          "from",
          "for",
          "as");

  private final List<Token> tokens;
  private int at;
  private int depth;

  private Parser(List<Token> tokens) {
    this.tokens = tokens;
  }

  static Syntax parse(String text) {
    Parser parser = new Parser(Lexer.tokens(text));
    Syntax syntax = parser.or();
    if (parser.peek().kind() != Kind.END) {
      throw parser.unexpected("an operator or the end");
    }
    return syntax;
  }

  private Syntax or() {
    if (++depth > MOST_DEPTH) {
      throw new ExpressionFault(peek().at(), "the expression is nested too deeply");
    }
    Syntax left = and();
    for (Token t = peek(); takeWord("or"); t = peek()) {
      left = new Syntax.Infix(t.at(), "or", left, and());
    }
    depth--;
    return left;
  }

  private Syntax and() {
    Syntax left = not();
    for (Token t = peek(); takeWord("and"); t = peek()) {
      left = new Syntax.Infix(t.at(), "and", left, not());
    }
    return left;
  }

  private Syntax not() {
    Token t = peek();
    return takeWord("not") ? new Syntax.Prefix(t.at(), "not", not()) : is();
  }

  private Syntax is() {
    Syntax left = comparison();
    for (Token t = peek(); takeWord("is"); t = peek()) {
      boolean negated = takeWord("not");
      if (takeWord("distinct")) {
        needWord("from");
        Syntax right = comparison();
        left = new Syntax.Infix(t.at(), negated ? "is same" : "is distinct", left, right);
      } else {
        String what = word("null, true, false, unknown or distinct from");
        if (!Set.of("null", "true", "false", "unknown").contains(what)) {
          throw new ExpressionFault(
              tokens.get(at - 1).at(),
              "null, true, false, unknown or distinct from must follow is");
        }
        left = new Syntax.Is(t.at(), left, what, negated);
      }
    }
    return left;
  }

  private Syntax comparison() {
    Syntax left = among();
    Token t = peek();
    if (t.kind() == Kind.SYMBOL && COMPARISONS.contains(t.text())) {
      at++;
      String operator = t.text().equals("!=") ? "<>" : t.text();
      left = new Syntax.Infix(t.at(), operator, left, among());
      if (peek().kind() == Kind.SYMBOL && COMPARISONS.contains(peek().text())) {
        throw new ExpressionFault(peek().at(), "comparisons do not chain; use and");
      }
    }
    return left;
  }

  /** between, in and like, which do not chain. */
  private Syntax among() {
    Syntax left = concatenation();
    Token t = peek();
    boolean negated = isWord("not") && Set.of("between", "in", "like").contains(next().text());
    if (negated) {
      at++;
    }
    Syntax result;
    if (takeWord("between")) {
      boolean symmetric = takeWord("symmetric");
      Syntax low = concatenation();
      needWord("and");
      result = new Syntax.Between(t.at(), left, low, concatenation(), symmetric);
    } else if (takeWord("in")) {
      need("(");
      List<Syntax> list = new ArrayList<>(List.of(or()));
      while (take(",")) {
        list.add(or());
      }
      need(")");
      return new Syntax.In(t.at(), left, list, negated);
    } else if (takeWord("like")) {
      Syntax pattern = concatenation();
      result = new Syntax.Like(t.at(), left, pattern, takeWord("escape") ? concatenation() : null);
    } else {
      return left;
    }
    return negated ? new Syntax.Prefix(t.at(), "not", result) : result;
  }

  private Syntax concatenation() {
    Syntax left = sum();
    for (Token t = peek(); take("||"); t = peek()) {
      left = new Syntax.Infix(t.at(), "||", left, sum());
    }
    return left;
  }

  private Syntax sum() {
    Syntax left = product();
    for (Token t = peek(); take("+") || take("-"); t = peek()) {
      left = new Syntax.Infix(t.at(), t.text(), left, product());
    }
    return left;
  }

  private Syntax product() {
    Syntax left = sign();
    for (Token t = peek(); take("*") || take("/") || take("%"); t = peek()) {
      left = new Syntax.Infix(t.at(), t.text(), left, sign());
    }
    return left;
  }

  private Syntax sign() {
    Token t = peek();
    if (take("-") || take("+")) {
      if (++depth > MOST_DEPTH) {
        throw new ExpressionFault(t.at(), "the expression is nested too deeply");
      }
      Syntax operand = sign();
      depth--;
      return new Syntax.Prefix(t.at(), t.text(), operand);
    }
    Syntax operand = primary();
    for (Token c = peek(); take("::"); c = peek()) {
      operand = new Syntax.Cast(c.at(), operand, type());
    }
    return operand;
  }

  private Syntax primary() {
    Token t = peek();
    at++;
    switch (t.kind()) {
      case NUMBER:
        return new Syntax.Number(t.at(), t.text());
      case TEXT:
        return new Syntax.Text(t.at(), t.text());
      case QUOTED_NAME:
        return new Syntax.Name(t.at(), t.text());
      case SYMBOL:
        if (t.text().equals("(")) {
          Syntax inside = or();
          need(")");
          return inside;
        }
        break;
      case NAME:
        return named(t);
      default:
        break;
    }
    at--;
    throw unexpected("a value");
  }

  private Syntax named(Token t) {
    switch (t.text()) {
      case "null", "true", "false":
        return new Syntax.Word(t.at(), t.text());
      case "case":
        return cases(t);
      case "cast":
        need("(");
        Syntax operand = or();
        needWord("as");
        SqlType type = type();
        need(")");
        return new Syntax.Cast(t.at(), operand, type);
      default:
        break;
    }
    if (peek().kind() == Kind.TEXT && t.text().equals("interval")) {
      Token span = peek();
      at++;
      return IntervalText.parse(span.at(), span.text());
    }
    if (peek().kind() == Kind.TEXT) {
      Optional<SqlType> type = SqlType.parse(t.text());
      if (type.isPresent() && !type.get().kind().isText()) {
        Token text = peek();
        at++;
        return new Syntax.Cast(t.at(), new Syntax.Text(text.at(), text.text()), type.get());
      }
    }
    if (RESERVED.contains(t.text())) {
      at--;
      throw unexpected("a value");
    }
    return take("(") ? call(t) : new Syntax.Name(t.at(), t.text());
  }

  private Syntax cases(Token t) {
    Syntax operand = isWord("when") ? null : or();
    List<Syntax.When> whens = new ArrayList<>();
    while (takeWord("when")) {
      Syntax condition = or();
      needWord("then");
      whens.add(new Syntax.When(condition, or()));
    }
    if (whens.isEmpty()) {
      throw unexpected("when");
    }
    Syntax otherwise = takeWord("else") ? or() : null;
    needWord("end");
    return new Syntax.Case(t.at(), operand, whens, otherwise);
  }

  /** A call, its opening bracket taken. Some standard functions have words between arguments. */
  private Syntax call(Token t) {
    String name = t.text();
    List<Syntax> arguments = new ArrayList<>();
    if (name.equals("extract")) {
      Token field = peek();
      at++;
      needWord("from");
      arguments.add(new Syntax.Text(field.at(), field.text()));
      arguments.add(or());
      need(")");
      return new Syntax.Call(t.at(), name, arguments);
    }
    if (name.equals("trim")) {
      for (String side : List.of("leading", "trailing", "both")) {
        if (isWord(side)) {
          at++;
          name = side.equals("leading") ? "ltrim" : side.equals("trailing") ? "rtrim" : "btrim";
          break;
        }
      }
      if (takeWord("from")) {
        arguments.add(or());
        need(")");
        return new Syntax.Call(t.at(), name, arguments);
      }
    }
    if (take(")")) {
      return new Syntax.Call(t.at(), name, arguments);
    }
    arguments.add(name.equals("position") ? concatenation() : or());
    if (name.equals("position")) {
      needWord("in");
      arguments.add(0, concatenation());
      need(")");
      return new Syntax.Call(t.at(), "strpos", arguments);
    }
    if (takeWord("from")) {
      if (name.endsWith("trim")) {
        arguments.add(0, or());
        name = name.equals("trim") ? "btrim" : name;
      } else {
        arguments.add(or());
      }
      if (takeWord("for")) {
        arguments.add(or());
      }
    } else if (name.equals("overlay") && takeWord("placing")) {
      arguments.add(or());
      needWord("from");
      arguments.add(or());
      if (takeWord("for")) {
        arguments.add(or());
      }
    }
    while (take(",")) {
      arguments.add(or());
    }
    SqlType returning = name.equals("json_value") && takeWord("returning") ? type() : null;
    need(")");
    if (returning != null) {
      Syntax value = new Syntax.Call(t.at(), Compiler.RETURNING, arguments);
      return new Syntax.Cast(t.at(), value, returning);
    }
    return new Syntax.Call(t.at(), name, arguments);
  }

  private SqlType type() {
    Token first = peek();
    StringBuilder text = new StringBuilder(word("a type"));
    for (String more : List.of("precision", "varying", "without", "with", "time", "zone")) {
      if (isWord(more)) {
        text.append(' ').append(more);
        at++;
      }
    }
    if (take("(")) {
      text.append('(').append(number());
      if (take(",")) {
        text.append(',').append(number());
      }
      need(")");
      text.append(')');
    }
    String written = text.toString();
    if (written.equals("decimal") || written.equals("numeric")) {
      return SqlType.of(TypeKind.DECIMAL);
    }
    return SqlType.parse(written)
        .orElseThrow(() -> new ExpressionFault(first.at(), "'" + written + "' is not a SQL type"));
  }

  private String number() {
    Token t = peek();
    if (t.kind() != Kind.NUMBER) {
      throw unexpected("a number");
    }
    at++;
    return t.text();
  }

  private String word(String wanted) {
    Token t = peek();
    if (t.kind() != Kind.NAME) {
      throw unexpected(wanted);
    }
    at++;
    return t.text();
  }

  private Token peek() {
    return tokens.get(at);
  }

  private Token next() {
    return tokens.get(Math.min(at + 1, tokens.size() - 1));
  }

  private boolean isWord(String word) {
    return peek().kind() == Kind.NAME && peek().text().equals(word);
  }

  private boolean takeWord(String word) {
    boolean there = isWord(word);
    at += there ? 1 : 0;
    return there;
  }

  private void needWord(String word) {
    if (!takeWord(word)) {
      throw unexpected(word);
    }
  }

  private boolean take(String symbol) {
    boolean there = peek().kind() == Kind.SYMBOL && peek().text().equals(symbol);
    at += there ? 1 : 0;
    return there;
  }

  private void need(String symbol) {
    if (!take(symbol)) {
      throw unexpected(symbol);
    }
  }

  private ExpressionFault unexpected(String wanted) {
    Token t = peek();
    String found = t.kind() == Kind.END ? "the end" : "'" + t.text() + "'";
    return new ExpressionFault(t.at(), "%s is expected here, not %s".formatted(wanted, found));
  }
}
