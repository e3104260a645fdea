package dev.dusky.core.layout;

import java.util.List;
import java.util.Locale;

/**
 * A binary format that carries its own schema.
 *
 * @param name the declared name
 * @param format which one
 * @param nulls strings that mean null, besides what is missing
 * @param recordLimit the largest record in bytes
 */
public record ColumnarLayout(String name, Format format, List<String> nulls, int recordLimit)
    implements Layout {

  /** The formats. */
  public enum Format {
    AVRO,
    PARQUET,
    ORC
  }

  public ColumnarLayout {
    nulls = List.copyOf(nulls);
  }

  @Override
  public String kind() {
    return format.name().toLowerCase(Locale.ROOT);
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
