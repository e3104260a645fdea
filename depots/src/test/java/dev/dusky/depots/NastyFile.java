package dev.dusky.depots;

import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.UUID;

/**
 * A delimited file as foreign programs write them, with its truth: each row's values, null where
 * there is none. {@link #next} is what the same sender sends on the next day.
 */
final class NastyFile {

  /** What is in a column. */
  private enum Kind {
    COUNTER,
    ZERO_CODE,
    PRINTED_DOUBLE,
    SMALL_DOUBLE,
    HASH,
    NAME,
    WORD_NULL,
    NUMBER_NULL,
    DAY,
    GERMAN_DAY,
    DECIMAL,
    YES_NO,
    QUOTED,
    APOSTROPHE,
    MIXED_CODE,
    UUID
  }

  private enum Head {
    NAMES,
    NONE,
    ONE_FEWER,
    BEHIND_A_MARK
  }

  private static final String[] NAMES = {
    "Amber Ridge", "Hollow Brook", "Mill Lane", "Upper Weir", "Stone Gate", "Far Meadow", "Low Barn"
  };
  private static final String[] FEW = {"North", "South", "East", "West"};

  private final long seed;
  private final int day;
  private final Random random;
  private final String delimiter;
  private final Head head;
  private final String lineEnd;
  private final int comments;
  private final List<Kind> kinds = new ArrayList<>();
  private final int rowCount;

  /** Values by row and column. */
  final List<List<String>> rows = new ArrayList<>();

  NastyFile(long seed) {
    this(seed, 0);
  }

  private NastyFile(long seed, int day) {
    this.seed = seed;
    this.day = day;
    Random shape = new Random(seed * 7919);
    delimiter = new String[] {",", ",", ";", "\t", "|", "~", "^"}[shape.nextInt(7)];
    int which = shape.nextInt(10);
    head =
        which < 6
            ? Head.NAMES
            : which < 8 ? Head.NONE : which < 9 ? Head.ONE_FEWER : Head.BEHIND_A_MARK;
    lineEnd = shape.nextInt(4) == 0 ? "\r\n" : "\n";
    comments = shape.nextInt(6) == 0 ? 1 + shape.nextInt(4) : 0;
    boolean texts = shape.nextInt(6) == 0;
    int columns = 3 + shape.nextInt(6);
    for (int c = 0; c < columns; c++) {
      Kind kind = Kind.values()[shape.nextInt(Kind.values().length)];
      kinds.add(texts ? (c % 2 == 0 ? Kind.NAME : Kind.WORD_NULL) : kind);
    }
    int size = shape.nextInt(10);
    int few = size == 0 ? 2 + shape.nextInt(4) : size < 8 ? 20 + shape.nextInt(400) : 3_000;
    random = new Random(seed * 31 + day);
    rowCount = day == 0 ? few : 50 + random.nextInt(3_000);
    for (int r = 0; r < rowCount; r++) {
      List<String> row = new ArrayList<>();
      for (int c = 0; c < columns; c++) {
        row.add(value(kinds.get(c), r));
      }
      rows.add(row);
    }
  }

  /** What the sender sends on the next day. */
  NastyFile next() {
    return new NastyFile(seed, day + 1);
  }

  private String value(Kind kind, int row) {
    return switch (kind) {
      case COUNTER -> Long.toString(48_000L + day * 5_000L + row);
      case ZERO_CODE -> "%05d".formatted(random.nextInt(9_000));
      case PRINTED_DOUBLE -> Double.toString(1 + random.nextDouble() * 99);
      case SMALL_DOUBLE -> row % 9 == 3 ? "1e-07" : Integer.toString(random.nextInt(900));
      case HASH -> new UUID(random.nextLong(), random.nextLong()).toString().replace("-", "");
      case NAME -> NAMES[random.nextInt(NAMES.length)] + " " + (char) ('A' + random.nextInt(26));
      case WORD_NULL -> row % 11 == 4 ? "NULL" : FEW[random.nextInt(FEW.length)];
      case NUMBER_NULL -> row % 7 == 2 ? null : Integer.toString(10 + random.nextInt(5_000));
      case DAY -> LocalDate.of(2026, 3, 1).plusDays(random.nextInt(28)).toString();
      case GERMAN_DAY -> "%02d.%02d.2026".formatted(1 + random.nextInt(28), 1 + random.nextInt(12));
      case DECIMAL -> String.format(Locale.ROOT, "%.2f", random.nextInt(2_000_000) / 100.0);
      case YES_NO -> random.nextBoolean() ? "Y" : "N";
      case QUOTED -> "left" + delimiter + " then \"right\" " + random.nextInt(99);
      case APOSTROPHE -> "Hob's " + NAMES[random.nextInt(NAMES.length)];
      case MIXED_CODE ->
          random.nextInt(20) == 0 ? "A" + random.nextInt(999) : "" + random.nextInt(999);
      case UUID -> new UUID(random.nextLong(), random.nextLong()).toString();
    };
  }

  /** How many columns it has. */
  int columns() {
    return kinds.size();
  }

  /** The file as it is sent. */
  byte[] bytes() {
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < comments; i++) {
      text.append("# sent by the scales").append(delimiter).append(" line ").append(i);
      text.append(lineEnd);
    }
    List<String> names = new ArrayList<>();
    for (int c = head == Head.ONE_FEWER ? 1 : 0; c < kinds.size(); c++) {
      names.add(kinds.get(c).name().toLowerCase(Locale.ROOT) + "_" + c);
    }
    if (head != Head.NONE) {
      text.append(head == Head.BEHIND_A_MARK ? "#" : "");
      text.append(String.join(delimiter, names)).append(lineEnd);
    }
    for (List<String> row : rows) {
      for (int c = 0; c < row.size(); c++) {
        text.append(c == 0 ? "" : delimiter).append(cell(kinds.get(c), row.get(c)));
      }
      text.append(lineEnd);
    }
    return text.toString().getBytes(StandardCharsets.UTF_8);
  }

  private static String cell(Kind kind, String value) {
    if (value == null) {
      return "NULL";
    }
    return kind == Kind.QUOTED ? '"' + value.replace("\"", "\"\"") + '"' : value;
  }

  /** The day a text means where a draft reads days; else null. */
  static String day(String text) {
    return text.matches("\\d\\d\\.\\d\\d\\.\\d{4}")
        ? text.substring(6) + "-" + text.substring(3, 5) + "-" + text.substring(0, 2)
        : null;
  }

  @Override
  public String toString() {
    return "seed %d: %d rows of %s, delimiter '%s', head %s, %d comments"
        .formatted(seed, rowCount, kinds, delimiter, head, comments);
  }
}
