package dev.dusky.cli.demo;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.math.BigDecimal;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.zip.GZIPOutputStream;

/**
 * Makes the files that a day brings to the Wrenfold Dairy Cooperative: tanker dockets by day and
 * hour, and the registry of farms. Everything is made up; the same seed makes the same files.
 */
public final class WrenfoldData {

  private static final DateTimeFormatter MINUTE =
      DateTimeFormatter.ofPattern("dd/MM/yyyy HH:mm", Locale.ROOT);
  private static final int FARMS = 380;
  private static final String[] FIRST = {
    "Hollow", "Amber", "Crooked", "Upper", "Lower", "Fallow", "Lärken", "Quiet", "Thistle", "Prés"
  };
  private static final String[] SECOND = {
    "Brook", "Meadow", "Gate", "Ridge", "Mølle", "Orchard", "Haven", "Clairs", "Barrow", "Weir"
  };
  private static final String[] REMARKS = {
    "", "", "", "", "", "", "gate locked, waited", "second tank \"B\"", "new driver", "sample taken"
  };

  /** A deliberate fault of a docket. */
  private enum Flaw {
    NONE,
    NO_SUCH_DAY,
    LETTER_IN_LITRES,
    FARM_CODE_TOO_LONG,
    NO_FARM_CODE,
    OPEN_QUOTE,
    COMMA_IN_TEMPERATURE,
    TOO_MANY_DECIMALS
  }

  private final long seed;
  private final Random random;
  private final int docketsPerHour;
  private long docket = 480_000;

  /** A generator of a given number of dockets an hour. */
  public WrenfoldData(long seed, int docketsPerHour) {
    this.seed = seed;
    this.random = new Random(seed);
    this.docketsPerHour = docketsPerHour;
  }

  /**
   * Writes all files.
   *
   * @param outbox gets what arrives in time
   * @param late gets the file that arrives a day late
   */
  public void write(Path outbox, Path late) throws IOException {
    registry(outbox.resolve("farms/registry-2026-03-01.txt"));
    new WrenfoldSheets(seed).write(outbox);
    for (int day = 2; day <= 3; day++) {
      for (int hour = 5; hour <= 10; hour++) {
        String folder = "collections/2026-03-0" + day;
        String name = "%s/%02d.csv.gz".formatted(folder, hour);
        boolean isLate = day == 2 && hour == 10;
        Path file = (isLate ? late : outbox).resolve(name);
        dockets(file, LocalDateTime.of(2026, 3, day, hour, 0), flaws(day, hour));
        if (day == 2 && hour == 7) {
          Path again = outbox.resolve(folder + "/07-sent-again.csv.gz");
          Files.copy(file, again);
        }
      }
    }
  }

  /** Which flaws the dockets of that hour have, spread over the file. */
  private static List<Flaw> flaws(int day, int hour) {
    if (day == 2) {
      return switch (hour) {
        case 5 -> List.of(Flaw.NO_SUCH_DAY, Flaw.LETTER_IN_LITRES, Flaw.NO_FARM_CODE);
        case 6 -> List.of(Flaw.OPEN_QUOTE, Flaw.FARM_CODE_TOO_LONG);
        case 8 -> List.of(Flaw.COMMA_IN_TEMPERATURE, Flaw.COMMA_IN_TEMPERATURE);
        default -> List.of();
      };
    }
    return switch (hour) {
      case 5 -> List.of(Flaw.NO_SUCH_DAY, Flaw.NO_SUCH_DAY, Flaw.NO_SUCH_DAY);
      case 6 -> List.of(Flaw.TOO_MANY_DECIMALS, Flaw.LETTER_IN_LITRES);
      case 9 ->
          List.of(
              Flaw.COMMA_IN_TEMPERATURE,
              Flaw.COMMA_IN_TEMPERATURE,
              Flaw.COMMA_IN_TEMPERATURE,
              Flaw.NO_FARM_CODE,
              Flaw.FARM_CODE_TOO_LONG);
      default -> List.of();
    };
  }

  private void registry(Path file) throws IOException {
    try (Writer out = writer(file, StandardCharsets.ISO_8859_1, false)) {
      out.write("FARM|NAME|HERD|HECTARES|MEMBER SINCE|ORGANIC\r\n");
      for (int farm = 1; farm <= FARMS; farm++) {
        LocalDate since = LocalDate.of(1961, 1, 1).plusDays(random.nextInt(23_000));
        out.write(
            "%s|%s %s|%d|%s|%s|%s\r\n"
                .formatted(
                    farmCode(farm),
                    FIRST[random.nextInt(FIRST.length)],
                    SECOND[random.nextInt(SECOND.length)],
                    20 + random.nextInt(400),
                    decimal(80_000 + random.nextInt(4_000_000), 2).replace('.', ','),
                    since.format(DateTimeFormatter.BASIC_ISO_DATE),
                    random.nextInt(6) == 0 ? "Y" : "N"));
      }
    }
  }

  private void dockets(Path file, LocalDateTime hour, List<Flaw> flaws) throws IOException {
    int rows = docketsPerHour - docketsPerHour / 20 + random.nextInt(docketsPerHour / 10 + 1);
    int every = rows / (flaws.size() + 1);
    try (Writer out = writer(file, StandardCharsets.UTF_8, true)) {
      out.write("docket_no,farm_code,tanker,collected_at,litres,temperature,route,remark\n");
      for (int row = 1; row <= rows; row++) {
        boolean flawed = every > 0 && row % every == 0 && row / every <= flaws.size();
        out.write(docket(hour, flawed ? flaws.get(row / every - 1) : Flaw.NONE));
      }
    }
  }

  private String docket(LocalDateTime hour, Flaw flaw) {
    String farm = farmCode(1 + random.nextInt(FARMS));
    String time = hour.plusMinutes(random.nextInt(60)).format(MINUTE);
    String litres = decimal(1_500 + random.nextInt(90_000), 1);
    String temperature = decimal(28 + random.nextInt(24), 1);
    String remark = quoted(REMARKS[random.nextInt(REMARKS.length)]);
    switch (flaw) {
      case NO_SUCH_DAY -> time = "31/02/2026 " + time.substring(11);
      case LETTER_IN_LITRES -> litres = "8l2.5";
      case FARM_CODE_TOO_LONG -> farm = "WRENFOLD-" + farm;
      case NO_FARM_CODE -> farm = "n/a";
      case OPEN_QUOTE -> remark = "\"pump failed";
      case COMMA_IN_TEMPERATURE -> temperature = "\"" + temperature.replace('.', ',') + "\"";
      case TOO_MANY_DECIMALS -> litres = litres + "25";
      case NONE -> {
        // as it should be
      }
    }
    return "%d,%s,T%02d,%s,%s,%s,R%d,%s\n"
        .formatted(
            docket++,
            farm,
            1 + random.nextInt(24),
            time,
            litres,
            temperature,
            1 + random.nextInt(9),
            remark);
  }

  private static String quoted(String text) {
    return text.contains(",") || text.contains("\"")
        ? '"' + text.replace("\"", "\"\"") + '"'
        : text;
  }

  private static String farmCode(int number) {
    return String.format(Locale.ROOT, "WF%04d", number);
  }

  private static String decimal(int unscaled, int scale) {
    return BigDecimal.valueOf(unscaled, scale).toPlainString();
  }

  private static Writer writer(Path file, Charset charset, boolean compress) throws IOException {
    Files.createDirectories(file.getParent());
    var out = Files.newOutputStream(file);
    return new BufferedWriter(
        new OutputStreamWriter(compress ? new GZIPOutputStream(out) : out, charset));
  }
}
