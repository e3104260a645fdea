package dev.dusky.core.drift;

import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.drift.Drift.Action;
import dev.dusky.core.drift.Drift.Change;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.DriftPolicy.Fields;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.GrownColumn;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The fields that a file says it has, in a header or a schema, compared with its feed.
 *
 * @param feed the feed as it reads this file: fields that are missing and may be are absent, those
 *     that it does not know come as extra texts where they are of interest
 * @param drifts how the file differs
 * @param refusal why it cannot be loaded as it is
 */
public record FileShape(Feed feed, List<Drift> drifts, Optional<Failure> refusal) {

  /** A file that says nothing of its fields, or of a feed that does not ask. */
  public static FileShape asDeclared(Feed feed) {
    return new FileShape(feed, List.of(), Optional.empty());
  }

  /**
   * Compares.
   *
   * @param grown columns that other files brought, which this one need not have
   * @param path the file's path
   * @param names the fields that the file says it has
   */
  public static FileShape of(Feed feed, List<GrownColumn> grown, String path, List<String> names) {
    DriftPolicy policy = feed.policies().drift().orElseThrow();
    List<String> unknown = new ArrayList<>(names);
    List<FeedColumn> missing = new ArrayList<>();
    List<FeedColumn> fields = FeedInputs.of(feed).fields();
    for (FeedColumn column : fields) {
      String name = top(names, column.fieldName());
      if (column.from() instanceof FieldSource.At at) {
        if (at.position() <= names.size()) {
          unknown.remove(names.get(at.position() - 1));
        }
      } else if (!take(unknown, name) && !has(names, name)) {
        missing.add(column);
      }
    }
    for (String ignored : feed.ignore()) {
      unknown.removeIf(n -> n.equalsIgnoreCase(ignored));
      if (ignored.matches("[1-9]\\d{0,4}") && Integer.parseInt(ignored) <= names.size()) {
        unknown.remove(names.get(Integer.parseInt(ignored) - 1));
      }
    }
    if (missing.size() == fields.size()) {
      return asDeclared(feed); // a file of another feed, which reading it shows
    }
    List<Drift> drifts = new ArrayList<>();
    List<String> refused = new ArrayList<>();
    List<FeedColumn> columns = new ArrayList<>(feed.columns());
    for (FeedColumn column : missing) {
      boolean brought = grown.stream().anyMatch(g -> g.name().equals(column.name()));
      boolean needed =
          !columns.contains(column)
              || column.notNull() && column.defaultText().isEmpty()
              || policy.fields() == Fields.REFUSE && !brought;
      if (needed) {
        refused.add(column.fieldName() + " is missing");
      }
      if (!brought || needed) {
        drifts.add(
            Drift.of(
                column.fieldName(),
                Change.MISSING,
                needed ? Action.REFUSED : Action.NULL,
                renamed(column, unknown)));
      }
      columns.replaceAll(c -> c.equals(column) ? c.withFrom(new FieldSource.Absent()) : c);
    }
    boolean tooMany = policy.grows() && unknown.size() > policy.most();
    boolean refuses = policy.fields() == Fields.REFUSE;
    if (refuses) {
      unknown.forEach(name -> refused.add(name + " is new"));
    }
    if (tooMany) {
      refused.add(
          "%,d fields are new, and at most %,d may be added at once"
              .formatted(unknown.size(), policy.most()));
    }
    if (refuses || tooMany || policy.fields() == Fields.IGNORE) {
      Action action = refuses || tooMany ? Action.REFUSED : Action.IGNORED;
      unknown.forEach(name -> drifts.add(Drift.of(name, Change.NEW, action, "")));
    }
    Feed as = feed.withColumns(columns);
    if (policy.captures() || policy.grows() && !tooMany) {
      as =
          as.withExtras(
              unknown.stream()
                  .map(name -> FeedColumn.text(name, new FieldSource.Named(name)))
                  .toList());
    }
    return new FileShape(as, drifts, refusal(feed, path, refused));
  }

  /** The first name of a path into a structure, by which a schema's fields are known. */
  private static String top(List<String> names, String field) {
    int point = field.indexOf('.');
    return point > 0 && !has(names, field) ? field.substring(0, point) : field;
  }

  /**
   * Takes out the one that a column reads: of that very name, or the first that differs in case.
   */
  private static boolean take(List<String> unknown, String name) {
    return unknown.remove(name)
        || unknown.stream()
            .filter(n -> same(n, name))
            .findFirst()
            .map(unknown::remove)
            .orElse(false);
  }

  private static boolean same(String name, String wanted) {
    return name.equalsIgnoreCase(wanted);
  }

  private static boolean has(List<String> names, String wanted) {
    return names.stream().anyMatch(n -> same(n, wanted));
  }

  private static String renamed(FeedColumn column, List<String> unknown) {
    return LikeNames.of(column.fieldName(), unknown)
        .map(
            name ->
                "%s may be its new name: if so, give column %s from: %s"
                    .formatted(name, column.name(), name))
        .orElse("");
  }

  private static Optional<Failure> refusal(Feed feed, String path, List<String> refused) {
    if (refused.isEmpty()) {
      return Optional.empty();
    }
    List<String> shown = refused.subList(0, Math.min(refused.size(), 20));
    return Optional.of(
        Failure.file(path + " differs from feed " + feed.name())
            .because(
                String.join(", ", shown)
                    + (refused.size() > 20 ? ", and %,d more".formatted(refused.size() - 20) : ""))
            .hint(
                "It waits until the file or the feed is changed: declare its columns, or let drift"
                    + " extend, capture or ignore them"));
  }
}
