package dev.dusky.core.bind;

import dev.dusky.core.expression.Columns;
import dev.dusky.core.expression.Evaluator;
import dev.dusky.core.expression.NoResult;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.vector.ColumnVector;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Evaluates a feed's expressions on a batch: computes columns, chooses rows, checks them. A row
 * whose inputs are at fault already is skipped; its reject has the cause.
 */
final class Expressions {

  /** An evaluator with the columns it reads. */
  private record Compiled(Evaluator evaluator, Columns columns, List<String> names) {}

  /** A derived column. */
  private record Derived(int column, Compiled compiled, DerivedValues values) {}

  private final Feed feed;
  private final List<Derived> derived = new ArrayList<>();
  private final List<Compiled> checks = new ArrayList<>();
  private final List<String> checked = new ArrayList<>();
  private final Optional<Compiled> where;

  Expressions(Feed feed, FeedInputs inputs, List<ColumnBinder> binders) {
    this.feed = feed;
    for (int i : inputs.derivedInOrder()) {
      FeedColumn column = feed.columns().get(i);
      Columns columns = inputs.columns(column);
      Evaluator evaluator = Evaluator.of(column.value().orElseThrow(), columns);
      derived.add(
          new Derived(
              i, compiled(evaluator, columns), new DerivedValues(evaluator, binders.get(i))));
    }
    for (FeedColumn column : feed.columns()) {
      column
          .check()
          .ifPresent(
              check -> {
                Columns columns = inputs.columns(null);
                checks.add(compiled(Evaluator.condition(check, columns), columns));
                checked.add(column.name());
              });
    }
    where =
        feed.where()
            .map(
                condition -> {
                  Columns columns = inputs.columns(null);
                  return compiled(Evaluator.condition(condition, columns), columns);
                });
  }

  private static Compiled compiled(Evaluator evaluator, Columns columns) {
    return new Compiled(evaluator, columns, evaluator.formula().names());
  }

  /** Whether there is nothing to do. */
  boolean none() {
    return derived.isEmpty() && checks.isEmpty() && where.isEmpty();
  }

  /** Derives, chooses and checks; marks the rows that are left out. */
  void run(RecordBatch in, RowBatch out, BatchProblems problems, boolean[] left) {
    ColumnVector[] vectors = new ColumnVector[out.columns().size() + out.hidden().size()];
    int i = 0;
    for (ColumnVector vector : out.columns()) {
      vectors[i++] = vector;
    }
    for (ColumnVector vector : out.hidden()) {
      vectors[i++] = vector;
    }
    for (Derived column : derived) {
      column.compiled().columns().vectors(vectors);
      String name = feed.columns().get(column.column()).name();
      column
          .values()
          .bind(
              in,
              out.columns().get(column.column()),
              problems,
              r -> usable(in, r, problems, column.compiled().names(), name));
    }
    where.ifPresent(condition -> choose(condition, vectors, in, problems, left));
    for (int c = 0; c < checks.size(); c++) {
      check(checks.get(c), checked.get(c), vectors, in, problems, left);
    }
  }

  /** Whether none of the columns that an expression reads is at fault in the record. */
  private static boolean usable(
      RecordBatch in, int r, BatchProblems problems, List<String> names, String own) {
    if (in.fault(r) != null) {
      return false;
    }
    List<Problem> all = problems.of(r);
    if (all == null) {
      return true;
    }
    for (Problem problem : all) {
      if (problem.column().isEmpty()
          || names.contains(problem.column()) && !problem.column().equals(own)) {
        return false;
      }
    }
    return true;
  }

  private static void choose(
      Compiled where,
      ColumnVector[] vectors,
      RecordBatch in,
      BatchProblems problems,
      boolean[] left) {
    where.columns().vectors(vectors);
    Evaluator evaluator = where.evaluator();
    for (int r = 0; r < in.records(); r++) {
      if (!problems.none() || in.anyFault()) {
        if (!usable(in, r, problems, where.names(), "")) {
          continue;
        }
      }
      try {
        left[r] = !evaluator.eval(r) || evaluator.whole() == 0;
      } catch (NoResult e) {
        problems.add(
            r,
            new Problem(
                RejectCode.FAILED_EXPRESSION,
                "",
                "",
                "where '%s' has no result: %s".formatted(evaluator.formula(), e.getMessage())));
      }
    }
  }

  private static void check(
      Compiled check,
      String column,
      ColumnVector[] vectors,
      RecordBatch in,
      BatchProblems problems,
      boolean[] left) {
    check.columns().vectors(vectors);
    Evaluator evaluator = check.evaluator();
    for (int r = 0; r < in.records(); r++) {
      if (left[r]
          || (!problems.none() || in.anyFault()) && !usable(in, r, problems, check.names(), "")) {
        continue;
      }
      try {
        if (evaluator.eval(r) && evaluator.whole() == 0) {
          problems.add(
              r,
              new Problem(
                  RejectCode.FAILED_CHECK,
                  column,
                  Values.text(vectors, column, r, check.columns()),
                  "the check '%s' does not hold".formatted(evaluator.formula())));
        }
      } catch (NoResult e) {
        problems.add(
            r,
            new Problem(
                RejectCode.FAILED_EXPRESSION,
                column,
                "",
                "the check '%s' has no result: %s".formatted(evaluator.formula(), e.getMessage())));
      }
    }
  }
}
