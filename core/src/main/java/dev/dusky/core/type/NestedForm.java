package dev.dusky.core.type;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** The declared form of JSON values that become structures, lists or maps of typed values. */
public sealed interface NestedForm {

  /**
   * A value within another one.
   *
   * @param type its type
   * @param notNull whether it must be there
   */
  record Part(SqlType type, boolean notNull) {

    @Override
    public String toString() {
      return notNull ? type + " not null" : type.toString();
    }

    /**
     * Whether every value of the other part is, unchanged, a value of this one. JSON without a
     * declared form is kept as text.
     */
    public boolean holds(Part value) {
      boolean text = type.kind() == TypeKind.TEXT && value.type().kind() == TypeKind.JSON;
      return (type.holds(value.type()) || text && !value.type().isNested())
          && (value.notNull() || !notNull);
    }
  }

  /**
   * An object with these members.
   *
   * @param members their names, all different, with their types
   * @param open whether other members are left out; if not, they are at fault
   */
  record Members(List<Member> members, boolean open) implements NestedForm {

    public Members {
      members = List.copyOf(members);
    }

    /** The member with a name. */
    public Optional<Part> member(String name) {
      return members.stream().filter(m -> m.name().equals(name)).map(Member::part).findFirst();
    }

    @Override
    public String toString() {
      return members.stream()
          .map(member -> member.name() + " " + member.part())
          .collect(Collectors.joining(", ", "row(", ")"));
    }
  }

  /**
   * A member of an object.
   *
   * @param name its name
   * @param part its value
   */
  record Member(String name, Part part) {}

  /**
   * An array of equal elements.
   *
   * @param element any of them
   */
  record Items(Part element) implements NestedForm {

    @Override
    public String toString() {
      return "array(" + element + ")";
    }
  }

  /**
   * An object whose members' names are keys and not known before.
   *
   * @param value any of their values
   */
  record Entries(Part value) implements NestedForm {

    @Override
    public String toString() {
      return "map(text, " + value + ")";
    }
  }

  /** The values directly within a value of this form. */
  default Stream<Part> parts() {
    if (this instanceof Members members) {
      return members.members().stream().map(Member::part);
    }
    return Stream.of(this instanceof Items items ? items.element() : ((Entries) this).value());
  }

  /** Whether every value of the other form is, unchanged, a value of this one. */
  default boolean holds(NestedForm value) {
    if (this instanceof Items items && value instanceof Items other) {
      return items.element().holds(other.element());
    }
    if (this instanceof Entries entries && value instanceof Entries other) {
      return entries.value().holds(other.value());
    }
    if (this instanceof Members here && value instanceof Members there) {
      return there.members().stream()
              .allMatch(m -> here.member(m.name()).filter(part -> part.holds(m.part())).isPresent())
          && here.members().stream()
              .allMatch(m -> !m.part().notNull() || there.member(m.name()).isPresent());
    }
    return false;
  }
}
