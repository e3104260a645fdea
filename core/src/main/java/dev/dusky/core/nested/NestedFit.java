package dev.dusky.core.nested;

import dev.dusky.core.type.NestedForm;
import dev.dusky.core.type.NestedForm.Part;
import dev.dusky.core.type.SqlType;
import java.util.Optional;
import java.util.stream.Stream;

/** Where a nested column of a table does not hold the values of a feed. */
public final class NestedFit {

  private NestedFit() {}

  /**
   * The first place at which it does not, in words; empty if it holds every value.
   *
   * @param name the column's name
   */
  public static Optional<String> problem(String name, SqlType table, SqlType feed) {
    if (table.holds(feed)) {
      return Optional.empty();
    }
    NestedForm here = table.form().orElse(null);
    NestedForm there = feed.form().orElse(null);
    Optional<String> within = Optional.empty();
    if (here instanceof NestedForm.Members mine && there instanceof NestedForm.Members its) {
      within =
          Stream.concat(
                  its.members().stream().map(m -> member(name, mine, m)),
                  mine.members().stream().map(m -> needed(name, its, m)))
              .flatMap(Optional::stream)
              .findFirst();
    } else if (here instanceof NestedForm.Items mine && there instanceof NestedForm.Items its) {
      within = part(name + "[]", mine.element(), its.element());
    } else if (here instanceof NestedForm.Entries mine && there instanceof NestedForm.Entries its) {
      within = part(name + ".*", mine.value(), its.value());
    }
    return within.or(
        () ->
            Optional.of(
                "%s is %s in the table, which does not hold every %s of the feed"
                    .formatted(name, table, feed)));
  }

  private static Optional<String> member(
      String name, NestedForm.Members table, NestedForm.Member member) {
    String path = name + "." + member.name();
    return table
        .member(member.name())
        .map(part -> part(path, part, member.part()))
        .orElseGet(
            () ->
                Optional.of(
                    "%s, which is %s in the feed, does not exist in the table"
                        .formatted(path, member.part().type())));
  }

  private static Optional<String> needed(
      String name, NestedForm.Members feed, NestedForm.Member member) {
    return member.part().notNull() && feed.member(member.name()).isEmpty()
        ? Optional.of(
            "%s.%s of the table is not null, and the feed does not fill it"
                .formatted(name, member.name()))
        : Optional.empty();
  }

  private static Optional<String> part(String path, Part table, Part value) {
    if (table.holds(value)) {
      return Optional.empty();
    }
    return table.notNull() && !value.notNull()
        ? Optional.of(path + " is not null in the table, and may be null in the feed")
        : problem(path, table.type(), value.type());
  }
}
