package dev.dusky.core.record;

import java.util.List;

/**
 * The fields that a feed requests from a reader by paths.
 *
 * @param fields the fields, in the order in which each record shall have them
 */
public record FieldRequest(List<Field> fields) {

  /** Asks a JSON reader for all that no other field asks for, as one object. */
  public static final String REST = "\u2026";

  /**
   * One field.
   *
   * @param path its path or name
   * @param json whether its value is wanted as JSON text, structure and all
   */
  public record Field(String path, boolean json) {}

  public FieldRequest {
    fields = List.copyOf(fields);
  }

  /** A request for fields by name, as text. */
  public static FieldRequest of(List<String> paths) {
    return new FieldRequest(paths.stream().map(path -> new Field(path, false)).toList());
  }
}
