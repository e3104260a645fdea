package dev.dusky.core.layout;

import java.util.List;

/**
 * A sheet of an Office Open XML workbook (ECMA-376).
 *
 * @param name the declared name
 * @param sheet the sheet's name, or an empty text for the first
 * @param range the cells to read, such as {@code B3:F}, or an empty text for all
 * @param header what the first row is
 * @param trim whether white space around texts is dropped
 * @param nulls texts that mean null, besides empty cells
 * @param recordLimit the largest record in bytes
 */
public record WorkbookLayout(
    String name,
    String sheet,
    String range,
    HeaderUse header,
    boolean trim,
    List<String> nulls,
    int recordLimit)
    implements Layout {

  public WorkbookLayout {
    nulls = List.copyOf(nulls);
  }

  @Override
  public String kind() {
    return "workbook";
  }

  @Override
  public FieldNaming naming() {
    return header == HeaderUse.NAMES ? FieldNaming.HEADER : FieldNaming.POSITION;
  }

  @Override
  public boolean nullsInQuotes() {
    return true;
  }
}
