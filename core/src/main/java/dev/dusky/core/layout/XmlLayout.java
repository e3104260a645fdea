package dev.dusky.core.layout;

import java.util.List;

/**
 * XML 1.0 without document type and external entities.
 *
 * @param name the declared name
 * @param records the elements from the root to the one that is a record; {@code *} matches any
 * @param trim whether white space around a value is dropped
 * @param nulls values that mean null, besides what is missing
 * @param recordLimit the largest record in bytes
 */
public record XmlLayout(
    String name, List<String> records, boolean trim, List<String> nulls, int recordLimit)
    implements Layout {

  public XmlLayout {
    records = List.copyOf(records);
    nulls = List.copyOf(nulls);
  }

  @Override
  public String kind() {
    return "xml";
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
