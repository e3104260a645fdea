package dev.dusky.cli.demo;

import java.io.IOException;
import java.io.Writer;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;

/**
 * Makes two days of the Wrenfold Dairy Cooperative whose rows become trusted tables: the registry
 * as of each day, dockets of three tours a day with repeats and corrections, and laboratory
 * results. The tenth arrives in time, the ninth a day late. Everything is made up; the same seed
 * makes the same files.
 */
final class WrenfoldDays {

  private static final int FARMS = 120;
  private static final int DOCKETS = 320;

  /** Known to the registry of the ninth alone. */
  private static final String FORGOTTEN = "WF0121";

  private final Random random = new Random(310);
  private final List<String> names = new ArrayList<>();
  private final int[] herds = new int[FARMS];
  private int docket = 810_000;

  /** Writes the files of the ninth and the tenth of March into folders of those names. */
  public void write(Path folder) throws IOException {
    for (int farm = 0; farm < FARMS; farm++) {
      names.add(NAMES[random.nextInt(NAMES.length)] + " " + ENDS[random.nextInt(ENDS.length)]);
      herds[farm] = 20 + random.nextInt(300);
    }
    day(folder.resolve("ninth"), LocalDate.of(2026, 3, 9), 1);
    for (int farm = 0; farm < FARMS; farm += 8) {
      herds[farm] += 5 + random.nextInt(9);
    }
    names.set(6, "New " + names.get(6));
    day(folder.resolve("tenth"), LocalDate.of(2026, 3, 10), 0);
  }

  private static final String[] NAMES = {"Hollow", "Amber", "Upper", "Fallow", "Quiet", "Thistle"};
  private static final String[] ENDS = {"Brook", "Meadow", "Ridge", "Orchard", "Barrow", "Weir"};

  private void day(Path folder, LocalDate date, int extra) throws IOException {
    registry(folder.resolve("registry/" + date + ".txt"), extra);
    List<String> sent = new ArrayList<>();
    for (int hour = 5; hour <= 7; hour++) {
      tour(folder.resolve("dockets/%s/%02d.csv".formatted(date, hour)), date, hour, extra, sent);
    }
    results(folder.resolve("results/" + date + ".jsonl"), date);
  }

  private void registry(Path file, int extra) throws IOException {
    try (Writer out = writer(file)) {
      out.write("farm_code|name|herd|organic|status\n");
      for (int farm = 0; farm < FARMS; farm++) {
        boolean closed = extra == 0 && farm % 50 == 11;
        out.write(
            "%s|%s|%d|%s|%s\n"
                .formatted(
                    code(farm + 1),
                    names.get(farm),
                    herds[farm],
                    farm % 6 == 0 ? "Y" : "N",
                    closed ? "closed" : "member"));
      }
      if (extra > 0) {
        out.write(FORGOTTEN + "|Lower Weir|64|N|member\n");
      }
    }
  }

  /** A tour's dockets; some are sent again in the next tour, as they were or corrected. */
  private void tour(Path file, LocalDate date, int hour, int extra, List<String> sent)
      throws IOException {
    try (Writer out = writer(file)) {
      out.write("docket_no,farm_code,collected_at,litres,sent_at\n");
      LocalDateTime end = date.atTime(hour + 1, 0);
      for (int i = 0; i < sent.size(); i += 60) {
        String[] fields = sent.get(i).split(",");
        fields[3] = decimal(1_500 + random.nextInt(90_000));
        fields[4] = end.toString();
        out.write(String.join(",", fields) + "\n");
      }
      for (int i = 30; i < sent.size(); i += 90) {
        out.write(sent.get(i) + "\n");
      }
      for (int i = 0; i < DOCKETS; i++) {
        boolean forgotten = extra == 0 && hour == 6 && i % 160 == 40;
        int farm = 1 + random.nextInt(FARMS);
        String line =
            "%d,%s,%s,%s,%s"
                .formatted(
                    docket++,
                    forgotten ? FORGOTTEN : code((farm - 1) % 50 == 11 ? 1 : farm),
                    date.atTime(hour, random.nextInt(60)),
                    i == 200 ? "8l2.5" : decimal(1_500 + random.nextInt(90_000)),
                    end);
        out.write(line + "\n");
        if (i % 100 == 7) {
          out.write(line + "\n");
        }
        if (i != 200) {
          sent.add(line);
        }
      }
    }
  }

  private void results(Path file, LocalDate date) throws IOException {
    try (Writer out = writer(file)) {
      for (int i = 0; i < 90; i++) {
        int farm = 1 + random.nextInt(FARMS);
        out.write(
            "{\"sample\":\"S-%s-%02d\",\"farm\":\"%s\",\"taken_at\":\"%s\",\"fat\":%s,\"protein\":%s}\n"
                .formatted(
                    date.getDayOfMonth(),
                    i,
                    code((farm - 1) % 50 == 11 ? 1 : farm),
                    date.atTime(6, random.nextInt(60)),
                    BigDecimal.valueOf(350 + random.nextInt(120), 2),
                    BigDecimal.valueOf(300 + random.nextInt(80), 2)));
      }
    }
  }

  private static String code(int farm) {
    return String.format(Locale.ROOT, "WF%04d", farm);
  }

  private static String decimal(int tenths) {
    return BigDecimal.valueOf(tenths, 1).toPlainString();
  }

  private static Writer writer(Path file) throws IOException {
    Files.createDirectories(file.getParent());
    return Files.newBufferedWriter(file, StandardCharsets.UTF_8);
  }
}
