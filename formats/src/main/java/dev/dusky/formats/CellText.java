package dev.dusky.formats;

import dev.dusky.core.type.IsoForm;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.LocalDate;
import org.dhatim.fastexcel.reader.Cell;
import org.dhatim.fastexcel.reader.CellType;

/**
 * The text of a cell's value: numbers in plain digits, dates and times in ISO 8601 by the cell's
 * format, formulas by the value kept with them.
 */
final class CellText {

  private static final long EPOCH_1900 = LocalDate.of(1899, 12, 30).toEpochDay();
  private static final long EPOCH_1904 = LocalDate.of(1904, 1, 1).toEpochDay();
  private static final BigDecimal DAY_MILLIS = BigDecimal.valueOf(86_400_000);

  private final boolean from1904;

  CellText(boolean from1904) {
    this.from1904 = from1904;
  }

  String of(Cell cell) {
    if (cell == null) {
      return "";
    }
    String raw = cell.getRawValue();
    if (cell.getType() == CellType.BOOLEAN) {
      return "1".equals(raw) || "true".equalsIgnoreCase(raw) ? "true" : "false";
    }
    if (cell.getType() == CellType.NUMBER || cell.getType() == CellType.FORMULA) {
      return number(cell, raw);
    }
    if (cell.getType() == CellType.ERROR) {
      return raw == null ? "" : raw;
    }
    return cell.getType() == CellType.EMPTY || cell.getText() == null ? "" : cell.getText();
  }

  private String number(Cell cell, String raw) {
    if (raw == null) {
      return "";
    }
    double value;
    try {
      value = Double.parseDouble(raw);
    } catch (NumberFormatException e) {
      Object cached = cell.getValue();
      if (cached instanceof Boolean truth) {
        return truth.toString();
      }
      return raw; // a formula whose value is a text or an error
    }
    // A cell's number is a binary one: its shortest digits are those that were typed in.
    BigDecimal number = new BigDecimal(Double.toString(value));
    int parts = dateParts(cell);
    if (parts == 0 || number.signum() < 0) {
      return plain(number);
    }
    return moment(number, parts);
  }

  private static String plain(BigDecimal number) {
    return number.signum() == 0 ? "0" : number.stripTrailingZeros().toPlainString();
  }

  private static final int DATE = 1;
  private static final int TIME = 2;

  private static int dateParts(Cell cell) {
    Integer id = cell.getDataFormatId();
    String format = cell.getDataFormatString();
    if (id != null && format == null) {
      if (id >= 14 && id <= 17 || id >= 27 && id <= 31 || id == 36 || id >= 50 && id <= 58) {
        return DATE;
      }
      return id == 22 ? DATE | TIME : id >= 18 && id <= 21 || id >= 45 && id <= 47 ? TIME : 0;
    }
    if (format == null || format.equalsIgnoreCase("General")) {
      return 0;
    }
    String bare =
        format
            .replaceAll("\"[^\"]*\"|\\\\.|_.|\\*.", "")
            .replaceAll("\\[(?![hmsHMS]+\\])[^\\]]*\\]", "")
            .split(";")[0];
    boolean date = bare.matches(".*[dDyY].*");
    boolean time = bare.matches(".*[hHsS].*");
    boolean month = !date && !time && bare.matches("[mM/. -]+");
    return (date || month ? DATE : 0) | (time ? TIME : 0);
  }

  private String moment(BigDecimal number, int parts) {
    long days = number.setScale(0, RoundingMode.FLOOR).longValue();
    long millis =
        number
            .subtract(BigDecimal.valueOf(days))
            .multiply(DAY_MILLIS)
            .setScale(0, RoundingMode.HALF_UP)
            .longValue();
    if (millis == 86_400_000) {
      days++;
      millis = 0;
    }
    if (parts == TIME && days == 0) {
      return IsoForm.time(millis * 1000);
    }
    long epochDay;
    if (from1904) {
      epochDay = EPOCH_1904 + days;
    } else {
      // The 1900 system counts a 29th of February 1900 that never was.
      epochDay = EPOCH_1900 + days + (days < 60 ? 1 : 0);
    }
    if (epochDay > LocalDate.of(9999, 12, 31).toEpochDay()) {
      return plain(number);
    }
    return parts == DATE && millis == 0
        ? IsoForm.date(epochDay)
        : IsoForm.date(epochDay) + " " + IsoForm.time(millis * 1000);
  }
}
