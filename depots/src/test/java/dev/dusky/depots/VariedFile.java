package dev.dusky.depots;

import java.io.ByteArrayOutputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.UUID;

/**
 * A made-up delimited file together with the truth about it: how it is written, and what its
 * columns hold. The same seed makes the same file.
 */
final class VariedFile {

  /** What a column holds. */
  enum Content {
    NUMBER,
    LARGE_NUMBER,
    ZERO_CODE,
    PHONE,
    EXPONENT_CODE,
    DECIMAL,
    DATE,
    TIMESTAMP,
    TRUTH,
    TEXT,
    UUID
  }

  /** A column and the form of its values. */
  record Column(String name, Content content, String form) {}

  private static final String[] DELIMITERS = {",", ";", "\t", "|", "~"};
  private static final String[] ENCODINGS = {
    "utf-8", "utf-8", "utf-8 marked", "iso-8859-1", "windows-1252", "utf-16le"
  };
  private static final String[] DATES = {
    "yyyy-MM-dd", "dd/MM/yyyy", "MM/dd/yyyy", "dd.MM.yyyy", "yyyyMMdd", "yyyy/MM/dd", "dd-MMM-yyyy"
  };
  private static final String[] TRUTHS = {"true/false", "Y/N", "yes/no", "T/F", "ja/nein"};
  private static final String[] DECIMALS = {".", ",", ",.", ".,"};
  private static final String[] NULLS = {"", "", "n/a", "NULL", "-"};
  private static final String[] WORDS = {
    "Brook", "Prés", "Weir", "Lärken", "gate locked", "Haven", "Mill", "Ridge", "Mølle", "Barrow"
  };

  final String delimiter;
  final char quote;
  final String encoding;
  final boolean header;
  final int titleLines;
  final boolean ragged;
  final String nullMark;
  final List<Column> columns = new ArrayList<>();
  private final Random random;
  private final String content;

  VariedFile(long seed) {
    random = new Random(seed);
    delimiter = pick(DELIMITERS);
    quote = random.nextInt(4) == 0 ? '\'' : '"';
    encoding = pick(ENCODINGS);
    header = random.nextInt(4) > 0;
    titleLines = header && random.nextInt(6) == 0 ? 1 + random.nextInt(3) : 0;
    ragged = random.nextInt(8) == 0;
    nullMark = pick(NULLS);
    int count = 4 + random.nextInt(7);
    columns.add(column(0, Content.NUMBER));
    columns.add(column(1, Content.TEXT));
    for (int i = 2; i < count; i++) {
      columns.add(column(i, Content.values()[random.nextInt(Content.values().length)]));
    }
    content = write(80 + random.nextInt(300));
  }

  private String pick(String[] from) {
    return from[random.nextInt(from.length)];
  }

  private Column column(int i, Content content) {
    String form =
        switch (content) {
          case DATE -> pick(DATES);
          case TIMESTAMP ->
              pick(new String[] {"yyyy-MM-dd HH:mm:ss", "dd/MM/yyyy HH:mm", "MM/dd/yyyy HH:mm:ss"});
          case TRUTH -> pick(TRUTHS);
          case DECIMAL -> pick(DECIMALS);
          default -> "";
        };
    return new Column(content.name().toLowerCase(Locale.ROOT) + "_" + i, content, form);
  }

  private String write(int rows) {
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < titleLines; i++) {
      text.append("Made for the cooperative, part ").append(i + 1).append('\n');
    }
    if (header) {
      text.append(String.join(delimiter, columns.stream().map(Column::name).toList())).append('\n');
    }
    for (int row = 0; row < rows; row++) {
      List<String> values = new ArrayList<>();
      for (Column column : columns) {
        boolean first = column == columns.get(0);
        boolean none = !first && random.nextInt(12) == 0;
        values.add(none ? nullMark : quoted(value(column, row)));
      }
      int keep = ragged && random.nextInt(5) == 0 ? values.size() - 1 : values.size();
      text.append(String.join(delimiter, values.subList(0, keep))).append('\n');
    }
    return text.toString();
  }

  private String quoted(String value) {
    boolean needed = value.contains(delimiter) || value.indexOf(quote) >= 0;
    return needed ? quote + value.replace("" + quote, "" + quote + quote) + quote : value;
  }

  private String value(Column column, int row) {
    LocalDate day = LocalDate.of(2024, 1, 1).plusDays(random.nextInt(900));
    return switch (column.content()) {
      case NUMBER -> Integer.toString(480_000 + row * 7);
      case LARGE_NUMBER -> Long.toString(6_000_000_000L + random.nextInt(1_000_000));
      case ZERO_CODE -> "%05d".formatted(random.nextInt(9_999));
      case PHONE -> (row % 2 == 0 ? "+49" : "0") + (300_000_000L + random.nextInt(1_000_000));
      case EXPONENT_CODE -> (1 + random.nextInt(9)) + "E" + (1 + random.nextInt(9));
      case DECIMAL -> decimal(column.form());
      case DATE -> day.format(DateTimeFormatter.ofPattern(column.form(), Locale.ENGLISH));
      case TIMESTAMP ->
          LocalDateTime.of(day, java.time.LocalTime.of(random.nextInt(24), random.nextInt(60)))
              .format(DateTimeFormatter.ofPattern(column.form(), Locale.ENGLISH));
      case TRUTH -> column.form().split("/")[random.nextInt(2)];
      case TEXT ->
          pick(WORDS)
              + (random.nextInt(5) == 0 ? delimiter + " " : " ")
              + pick(WORDS)
              + (random.nextInt(20) == 0 ? " " + quote + "B" + quote : "");
      case UUID -> new UUID(random.nextLong(), random.nextLong()).toString();
    };
  }

  private String decimal(String marks) {
    String plain = "%d.%02d".formatted(random.nextInt(40_000), random.nextInt(100));
    char mark = marks.charAt(0);
    String whole = plain.substring(0, plain.indexOf('.'));
    if (marks.length() > 1 && whole.length() > 3) {
      whole =
          whole.substring(0, whole.length() - 3)
              + marks.charAt(1)
              + whole.substring(whole.length() - 3);
    }
    return whole + mark + plain.substring(plain.indexOf('.') + 1);
  }

  byte[] bytes() {
    Charset charset =
        switch (encoding) {
          case "iso-8859-1" -> StandardCharsets.ISO_8859_1;
          case "windows-1252" -> Charset.forName("windows-1252");
          case "utf-16le" -> StandardCharsets.UTF_16LE;
          default -> StandardCharsets.UTF_8;
        };
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    String mark = encoding.equals("utf-8 marked") || encoding.equals("utf-16le") ? "\ufeff" : "";
    String text = mark + content;
    // What tells windows-1252 apart are characters that ISO 8859-1 does not have.
    text =
        encoding.equals("windows-1252") ? text.replace("gate locked", "gate \u2026 locked") : text;
    out.writeBytes(text.getBytes(charset));
    return out.toByteArray();
  }

  @Override
  public String toString() {
    return "delimiter '%s' quote %s encoding %s header %s titles %d ragged %s null '%s' %s"
        .formatted(delimiter, quote, encoding, header, titleLines, ragged, nullMark, columns);
  }
}
