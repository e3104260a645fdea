package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;

/** Texts put together, with or without a separator. */
final class Concatenation {

  private static final TypeKind TEXT = TypeKind.TEXT;

  private Concatenation() {}

  /** The operator ||: null if either is. */
  static Step of(Step a, Step b) {
    return new Step(
        TEXT,
        (s, row) -> {
          if (!(a.eval(row) & b.eval(row))) {
            return false;
          }
          int first = a.to - a.from;
          int length = first + b.to - b.from;
          byte[] room = s.room(TextFunctions.checked(length));
          System.arraycopy(a.b, a.from, room, 0, first);
          System.arraycopy(b.b, b.from, room, first, b.to - b.from);
          return s.setText(room, 0, length);
        });
  }

  /** Texts of all arguments in a row, nulls skipped; with a separator from the first. */
  static Step ofAll(Step[] a, int first) {
    Step[] parts = new Step[a.length];
    for (int i = 0; i < a.length; i++) {
      parts[i] = Casts.to(a[i], TEXT);
    }
    boolean[] shortTruth = new boolean[a.length];
    for (int i = 0; i < a.length; i++) {
      shortTruth[i] = a[i].type() == TypeKind.BOOLEAN;
    }
    return new Step(
        TEXT,
        (s, row) -> {
          String separator = "";
          if (first == 1) {
            if (!parts[0].eval(row)) {
              return false;
            }
            separator = parts[0].text();
          }
          StringBuilder out = new StringBuilder();
          boolean any = false;
          for (int i = first; i < parts.length; i++) {
            if (parts[i].eval(row)) {
              String text = parts[i].text();
              out.append(any ? separator : "").append(shortTruth[i] ? text.substring(0, 1) : text);
              TextFunctions.checked(out.length());
              any = true;
            }
          }
          return s.setText(out.toString());
        });
  }
}
