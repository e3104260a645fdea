package dev.dusky.core.layout;

import java.util.List;
import java.util.Optional;

/**
 * JSON (RFC 8259).
 *
 * @param name the declared name
 * @param form how values follow each other
 * @param records the JSONPath of the records inside a document
 * @param rows the JSONPath of arrays whose elements become rows; each wildcard in it is a level
 * @param emptyRows what becomes of a record without elements there
 * @param carry JSONPaths in the document whose values are carried onto each record behind them
 * @param encoding the character encoding
 * @param nulls strings that mean null, besides the null literal and what is missing
 * @param recordLimit the largest record in bytes
 */
public record JsonLayout(
    String name,
    JsonForm form,
    Optional<String> records,
    Optional<String> rows,
    EmptyRows emptyRows,
    List<String> carry,
    Encoding encoding,
    List<String> nulls,
    int recordLimit)
    implements Layout {

  public JsonLayout {
    carry = List.copyOf(carry);
    nulls = List.copyOf(nulls);
  }

  /** JSON as it comes, a record each value. */
  public static JsonLayout plain(String name) {
    return new JsonLayout(
        name,
        JsonForm.AUTO,
        Optional.empty(),
        Optional.empty(),
        EmptyRows.NONE,
        List.of(),
        Encoding.UTF_8,
        List.of(),
        DelimitedLayout.DEFAULT_RECORD_LIMIT);
  }

  @Override
  public String kind() {
    return "json";
  }

  @Override
  public FieldNaming naming() {
    return FieldNaming.PATH;
  }

  @Override
  public boolean nullsInQuotes() {
    return true;
  }
}
