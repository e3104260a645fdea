package dev.dusky.core.bind;

import dev.dusky.core.expression.Columns;
import dev.dusky.core.expression.Evaluator;
import dev.dusky.core.expression.ExpressionFault;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.layout.FieldNaming;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.type.TypeKind;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * The fields that a feed reads from its files: fields of its columns, and hidden fields that only
 * its expressions read. A name in an expression means a column of the feed; in a column's own
 * {@code value} its own name means the field, and so does a name that no column has.
 */
public final class FeedInputs {

  private final Feed feed;
  private final List<FeedColumn> hidden = new ArrayList<>();
  private final List<FeedColumn> fields = new ArrayList<>();

  private FeedInputs(Feed feed) {
    this.feed = feed;
  }

  /**
   * Works out the inputs.
   *
   * @throws ExpressionFault if a name cannot mean anything in this feed
   */
  public static FeedInputs of(Feed feed) {
    FeedInputs inputs = new FeedInputs(feed);
    for (FeedColumn column : feed.columns()) {
      column.value().ifPresent(value -> inputs.addHidden(value, column));
      column.check().ifPresent(check -> inputs.addHidden(check, null));
    }
    feed.where().ifPresent(where -> inputs.addHidden(where, null));
    for (FeedColumn column : feed.columns()) {
      if (column.value().isEmpty() && inRecord(column)) {
        inputs.fields.add(column);
      }
    }
    inputs.hidden.addAll(feed.extras());
    for (FeedColumn field : inputs.hidden) {
      if (inRecord(field)) {
        inputs.fields.add(field);
      }
    }
    return inputs;
  }

  private static boolean inRecord(FeedColumn column) {
    FieldSource from = column.from();
    return !(from instanceof FieldSource.OfFile
        || from instanceof FieldSource.Absent
        || from instanceof FieldSource.Leftovers);
  }

  private void addHidden(Formula formula, FeedColumn own) {
    for (String name : formula.names()) {
      boolean ownField = own != null && own.name().equals(name);
      boolean column = feed.columns().stream().anyMatch(c -> c.name().equals(name));
      boolean there = hidden.stream().anyMatch(h -> h.name().equals(name));
      if (!there && (ownField || !column)) {
        FieldSource from =
            ownField && !(own.from() instanceof FieldSource.Next)
                ? own.from()
                : source(formula, name);
        hidden.add(FeedColumn.text(name, from));
      }
    }
  }

  private FieldSource source(Formula formula, String name) {
    if (feed.files().captureNames().contains(name)) {
      return new FieldSource.OfFile(name);
    }
    if (name.matches("field_[1-9]\\d{0,4}")) {
      return new FieldSource.At(Integer.parseInt(name.substring(6)));
    }
    boolean plain = name.matches("[A-Za-z_][A-Za-z0-9_]*");
    boolean anyPath = feed.layout() instanceof JsonLayout || feed.layout() instanceof XmlLayout;
    if (plain && anyPath) {
      throw new ExpressionFault(
          Math.max(0, formula.text().indexOf(name)),
          "there is no column '%s'; for a field of the record write its path, \"%s%s\""
              .formatted(name, feed.layout() instanceof JsonLayout ? "$." : "./", name));
    }
    if (feed.layout().naming() == FieldNaming.POSITION) {
      throw new ExpressionFault(
          Math.max(0, formula.text().indexOf(name)),
          "there is no column '%s', and layout %s has no names; write field_3 for the third field"
              .formatted(name, feed.layout().name()));
    }
    return new FieldSource.Named(name);
  }

  /** The columns and hidden fields that each take one field of a record, in order. */
  public List<FeedColumn> fields() {
    return List.copyOf(fields);
  }

  /** The fields that only expressions read. */
  List<FeedColumn> hidden() {
    return hidden;
  }

  /** The request to a reader that finds fields by paths. */
  public FieldRequest request() {
    return new FieldRequest(
        fields.stream()
            .map(c -> new FieldRequest.Field(c.fieldName(), c.type().kind() == TypeKind.JSON))
            .toList());
  }

  /** The columns as an expression sees them; {@code own} is the column it derives, or null. */
  Columns columns(FeedColumn own) {
    Columns columns = new Columns();
    for (FeedColumn column : feed.columns()) {
      columns.add(column.equals(own) ? "" : column.name(), column.type().kind());
    }
    for (FeedColumn field : hidden) {
      columns.add(field.name(), TypeKind.TEXT);
    }
    return columns;
  }

  /**
   * The derived columns, each behind those that its expression reads.
   *
   * @throws ExpressionFault if they read each other in a circle
   */
  List<Integer> derivedInOrder() {
    List<Integer> order = new ArrayList<>();
    Set<Integer> begun = new HashSet<>();
    for (int i = 0; i < feed.columns().size(); i++) {
      derive(i, order, begun);
    }
    return order;
  }

  private void derive(int i, List<Integer> order, Set<Integer> begun) {
    FeedColumn column = feed.columns().get(i);
    if (column.value().isEmpty() || order.contains(i)) {
      return;
    }
    if (!begun.add(i)) {
      throw new ExpressionFault(0, "column " + column.name() + " depends on itself");
    }
    for (String name : column.value().get().names()) {
      for (int j = 0; j < feed.columns().size(); j++) {
        if (j != i && feed.columns().get(j).name().equals(name)) {
          derive(j, order, begun);
        }
      }
    }
    order.add(i);
  }

  /** Compiles an expression of a column, or a condition, to see whether it can be. */
  public void check(Formula formula, FeedColumn own, boolean condition) {
    if (condition) {
      Evaluator.condition(formula, columns(own));
    } else {
      Evaluator.of(formula, columns(own));
      derivedInOrder();
    }
  }
}
