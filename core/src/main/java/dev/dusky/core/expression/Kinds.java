package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;

/** Which type two types have in common, as PostgreSQL resolves it. */
final class Kinds {

  private Kinds() {}

  /** The type in which an operator works on two numbers. */
  static TypeKind arithmetic(TypeKind a, TypeKind b) {
    if (a == b) {
      return a;
    }
    boolean floating = isFloat(a) || isFloat(b);
    return floating ? TypeKind.DOUBLE : a.compareTo(b) > 0 ? a : b;
  }

  /** The type that holds the values of both, or null if there is none. */
  static TypeKind union(TypeKind a, TypeKind b) {
    if (a == b) {
      return a;
    }
    if (a.isNumber() && b.isNumber()) {
      return a.compareTo(b) > 0 ? a : b;
    }
    boolean dates = isDate(a) && isDate(b);
    return dates ? a.compareTo(b) > 0 ? a : b : null;
  }

  static boolean isFloat(TypeKind kind) {
    return kind == TypeKind.REAL || kind == TypeKind.DOUBLE;
  }

  static boolean isDate(TypeKind kind) {
    return kind == TypeKind.DATE || kind == TypeKind.TIMESTAMP || kind == TypeKind.TIMESTAMP_TZ;
  }

  /** Whether the type's results are in {@link Step#whole}. */
  static boolean isWhole(TypeKind kind) {
    return kind.isInteger() || kind == TypeKind.BOOLEAN || kind.isTemporal();
  }

  static boolean isBytes(TypeKind kind) {
    return kind == TypeKind.TEXT || kind == TypeKind.JSON || kind == TypeKind.BINARY;
  }
}
