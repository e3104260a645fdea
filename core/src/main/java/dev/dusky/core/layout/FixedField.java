package dev.dusky.core.layout;

/**
 * A field of fixed place.
 *
 * @param name its name
 * @param start its first character in the record, from 1
 * @param length its length in characters
 * @param align the side at which its text is; the padding is on the other one
 * @param pad the padding character, ASCII
 * @param kind the kind of record that has it, or an empty text for the records that become rows; a
 *     field of another kind is carried onto the rows behind it
 */
public record FixedField(
    String name, int start, int length, Alignment align, char pad, String kind) {

  /** Where the text of a padded field is. */
  public enum Alignment {
    LEFT,
    RIGHT
  }
}
