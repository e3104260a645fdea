package dev.dusky.lake.engine;

import dev.dusky.core.type.NestedForm;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.lake.type.LakeTypes;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** SQL types in the words of the engine, and back. */
public final class EngineTypes {

  private static final Pattern NAME =
      Pattern.compile("\\G\\s*(?:`((?:[^`]|``)*)`|(\\w+))\\s*:\\s*");
  private static final Pattern SCALAR = Pattern.compile("\\G\\s*(\\w+(?:\\([\\d, ]+\\))?)");
  private static final Pattern NOT_NULL =
      Pattern.compile("\\G\\s+not null", Pattern.CASE_INSENSITIVE);
  private static final Pattern COMMENT =
      Pattern.compile("\\G\\s+comment\\s+'([^']*)'", Pattern.CASE_INSENSITIVE);

  private final String text;
  private int at;

  private EngineTypes(String text) {
    this.text = text;
  }

  /** The engine's name of a type. */
  static String name(SqlType type) {
    return switch (type.kind()) {
      case BOOLEAN -> "boolean";
      case SMALLINT, INTEGER -> "int";
      case BIGINT -> "bigint";
      case DECIMAL -> "decimal(%d,%d)".formatted(type.precision(), type.scale());
      case REAL -> "float";
      case DOUBLE -> "double";
      case JSON -> type.form().map(EngineTypes::name).orElse("string");
      case CHAR, VARCHAR, TEXT, UUID, TIME -> "string";
      case DATE -> "date";
      case TIMESTAMP -> "timestamp_ntz";
      case TIMESTAMP_TZ -> "timestamp_ltz";
      case BINARY -> "binary";
    };
  }

  private static String name(NestedForm form) {
    if (form instanceof NestedForm.Items items) {
      return "array<%s>".formatted(name(items.element().type()));
    }
    if (form instanceof NestedForm.Entries entries) {
      return "map<string, %s>".formatted(name(entries.value().type()));
    }
    return ((NestedForm.Members) form)
        .members().stream()
            .map(
                m ->
                    definition(
                        "`%s`: %s".formatted(m.name().replace("`", "``"), name(m.part().type())),
                        m.part().type(),
                        m.part().notNull()))
            .collect(Collectors.joining(", ", "struct<", ">"));
  }

  /**
   * A column with its type in the engine's words. Its comment keeps what the engine's types do not
   * have.
   *
   * @param name its quoted name
   */
  public static String column(String name, SqlType type, boolean notNull) {
    return definition(name + " " + name(type), type, notNull);
  }

  private static String definition(String typed, SqlType type, boolean notNull) {
    return "%s%s%s"
        .formatted(
            typed,
            notNull ? " not null" : "",
            type.isNested() ? "" : " comment '%s'".formatted(type));
  }

  /** The type that the engine means by a name; empty if it is none of ours. */
  static Optional<SqlType> type(String name) {
    EngineTypes reading = new EngineTypes(name);
    Optional<SqlType> type = reading.type();
    return reading.at == name.length() ? type : SqlType.parse(name);
  }

  private Optional<SqlType> type() {
    if (takes("struct<")) {
      return members();
    }
    if (takes("array<")) {
      return closed(type().map(element -> new NestedForm.Items(optional(element))));
    }
    if (takes("map<string,")) {
      return closed(type().map(value -> new NestedForm.Entries(optional(value))));
    }
    Matcher scalar = SCALAR.matcher(text);
    if (!scalar.find(at)) {
      return Optional.empty();
    }
    at = scalar.end();
    return scalar(scalar.group(1).toLowerCase(Locale.ROOT));
  }

  private static NestedForm.Part optional(SqlType type) {
    return new NestedForm.Part(type, false);
  }

  private Optional<SqlType> closed(Optional<? extends NestedForm> form) {
    return takes(">") ? form.map(SqlType::nested) : Optional.empty();
  }

  private Optional<SqlType> members() {
    List<NestedForm.Member> members = new ArrayList<>();
    do {
      Matcher name = NAME.matcher(text);
      if (!name.find(at)) {
        return Optional.empty();
      }
      at = name.end();
      Optional<SqlType> type = type();
      boolean notNull = skip(NOT_NULL).isPresent();
      Optional<SqlType> commented = skip(COMMENT).flatMap(SqlType::parse);
      Optional<SqlType> exact =
          type.map(
              t -> commented.filter(c -> LakeTypes.type(c).equals(LakeTypes.type(t))).orElse(t));
      if (exact.isEmpty()) {
        return Optional.empty();
      }
      String plain = name.group(2) == null ? name.group(1).replace("``", "`") : name.group(2);
      members.add(new NestedForm.Member(plain, new NestedForm.Part(exact.get(), notNull)));
    } while (takes(","));
    return closed(Optional.of(new NestedForm.Members(members, false)));
  }

  /** Skips what the pattern finds here; what is in its first group, if it has one. */
  private Optional<String> skip(Pattern pattern) {
    Matcher found = pattern.matcher(text);
    if (!found.find(at)) {
      return Optional.empty();
    }
    at = found.end();
    return Optional.of(found.groupCount() == 0 ? "" : found.group(1));
  }

  private boolean takes(String word) {
    while (at < text.length() && text.charAt(at) == ' ') {
      at++;
    }
    boolean found = text.regionMatches(true, at, word, 0, word.length());
    at += found ? word.length() : 0;
    return found;
  }

  private static Optional<SqlType> scalar(String name) {
    return switch (name) {
      case "int", "smallint", "tinyint" -> Optional.of(SqlType.of(TypeKind.INTEGER));
      case "float" -> Optional.of(SqlType.of(TypeKind.REAL));
      case "double" -> Optional.of(SqlType.of(TypeKind.DOUBLE));
      case "string" -> Optional.of(SqlType.of(TypeKind.TEXT));
      case "timestamp", "timestamp_ltz" -> Optional.of(SqlType.of(TypeKind.TIMESTAMP_TZ));
      case "timestamp_ntz" -> Optional.of(SqlType.of(TypeKind.TIMESTAMP));
      case "binary" -> Optional.of(SqlType.of(TypeKind.BINARY));
      default -> SqlType.parse(name);
    };
  }
}
