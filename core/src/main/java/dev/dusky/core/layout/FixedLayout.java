package dev.dusky.core.layout;

import java.util.List;
import java.util.Optional;

/**
 * Fields of fixed places.
 *
 * @param name the declared name
 * @param fields the fields
 * @param recordLength the length of each record in characters, or 0 if line ends end them
 * @param kinds how several kinds of record are distinguished
 * @param skipLines physical lines skipped at the beginning
 * @param shortRecords policy for records that end before their last field
 * @param encoding the character encoding
 * @param nulls field texts, padding removed, that mean null
 * @param recordLimit the largest record in bytes
 */
public record FixedLayout(
    String name,
    List<FixedField> fields,
    int recordLength,
    Optional<RecordKinds> kinds,
    int skipLines,
    ShortRecords shortRecords,
    Encoding encoding,
    List<String> nulls,
    int recordLimit)
    implements Layout {

  public FixedLayout {
    fields = List.copyOf(fields);
    nulls = List.copyOf(nulls);
  }

  @Override
  public String kind() {
    return "fixed";
  }

  @Override
  public FieldNaming naming() {
    return FieldNaming.DECLARED;
  }

  @Override
  public boolean nullsInQuotes() {
    return true;
  }
}
