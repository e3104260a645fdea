package dev.dusky.core.bind;

import dev.dusky.core.expression.Columns;
import dev.dusky.core.expression.Evaluator;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.expression.Syntax;
import dev.dusky.core.vector.ColumnVector;

/** Values of a batch as text, for messages. */
final class Values {

  private Values() {}

  /** The value of a column in a row. */
  static String text(ColumnVector[] vectors, String column, int row, Columns columns) {
    if (columns.find(column) < 0) {
      return "";
    }
    Evaluator value = Evaluator.of(new Formula(column, new Syntax.Name(0, column)), columns);
    columns.vectors(vectors);
    return value.eval(row) ? value.text() : "";
  }
}
