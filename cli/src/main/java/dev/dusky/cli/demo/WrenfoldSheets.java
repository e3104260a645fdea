package dev.dusky.cli.demo;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStream;
import java.io.Writer;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.StringJoiner;

/**
 * Makes the cooperative's other files: laboratory results in JSON lines, the fleet in fixed width,
 * and the price list and its history, a workbook and a Parquet file that come with the program.
 * Everything is made up; the same seed makes the same files.
 */
final class WrenfoldSheets {

  private static final int SAMPLES = 900;
  private static final String[] PLATES = {"WD", "HB", "RL", "KV"};
  private static final String[] LABS = {"North", "Harbour", "Mill Lane"};

  private final Random random;

  WrenfoldSheets(long seed) {
    this.random = new Random(seed);
  }

  void write(Path outbox) throws IOException {
    for (int day = 2; day <= 3; day++) {
      LocalDate date = LocalDate.of(2026, 3, day);
      assays(outbox.resolve("assays/day=%s/assays.jsonl".formatted(date)), date);
    }
    tankers(outbox.resolve("tankers/fleet-2026-03-01.txt"));
    copy("prices-2026-03.xlsx", outbox.resolve("prices/prices-2026-03.xlsx"));
    copy("prices-history.parquet", outbox.resolve("prices/prices-history.parquet"));
  }

  private static void copy(String name, Path to) throws IOException {
    Files.createDirectories(to.getParent());
    try (InputStream in = WrenfoldSheets.class.getResourceAsStream(name)) {
      Files.copy(in, to);
    }
  }

  private static Writer writer(Path file) throws IOException {
    Files.createDirectories(file.getParent());
    return new BufferedWriter(Files.newBufferedWriter(file));
  }

  private void tankers(Path file) throws IOException {
    String line = "%-7s%-9s%9s  %-11s%13s%n".replace("%n", "\n");
    try (Writer out = writer(file)) {
      out.write(line.formatted("TANKER", "PLATE", "CAPACITY", "IN SERVICE", "COMPARTMENTS"));
      for (int tanker = 1; tanker <= 24; tanker++) {
        LocalDate since = LocalDate.of(2009, 1, 1).plusDays(random.nextInt(6_000));
        out.write(
            line.formatted(
                "T%02d".formatted(tanker),
                PLATES[random.nextInt(PLATES.length)] + " " + (1000 + random.nextInt(9000)),
                12_000 + 500 * random.nextInt(30),
                since.format(DateTimeFormatter.ofPattern("dd.MM.yyyy", Locale.ROOT)),
                1 + random.nextInt(5)));
      }
    }
  }

  private void assays(Path file, LocalDate day) throws IOException {
    try (Writer out = writer(file)) {
      for (int i = 0; i < SAMPLES; i++) {
        out.write(assay(day, 71_000 + day.getDayOfMonth() * 1000 + i));
        out.write('\n');
      }
    }
  }

  private String assay(LocalDate day, int number) {
    LocalDateTime taken = day.atTime(5, 0).plusMinutes(random.nextInt(360));
    int kind = random.nextInt(10);
    String lab =
        "{\"name\":\"%s\",\"device\":\"MK-%d\"}"
            .formatted(LABS[random.nextInt(LABS.length)], 3 + random.nextInt(5));
    StringJoiner sample = new StringJoiner(",", "{", "}");
    sample.add("\"id\":\"S-%d\"".formatted(number));
    sample.add("\"taken_at\":\"%sZ\"".formatted(taken));
    sample.add("\"farm\":\"WF%04d\"".formatted(1 + random.nextInt(380)));
    if (random.nextInt(20) > 0) {
      sample.add("\"temperature\":" + decimal(30 + random.nextInt(20), 1));
    }
    StringJoiner record = new StringJoiner(",", "{", "}");
    record.add("\"sample\":" + sample);
    record.add("\"lab\":" + lab);
    if (kind < 6) {
      record.add("\"kind\":\"composition\"");
      record.add("\"results\":" + composition());
    } else if (kind < 9) {
      record.add("\"kind\":\"hygiene\"");
      record.add(
          "\"incubation\":{\"hours\":%d,\"degrees\":30.0}".formatted(24 * (1 + random.nextInt(3))));
      record.add("\"results\":" + hygiene());
    } else {
      record.add("\"kind\":\"residue\"");
      record.add("\"agents\":[\"beta-lactam\",\"tetracycline\"]");
      record.add("\"positive\":" + (random.nextInt(12) == 0));
      record.add("\"results\":[]");
    }
    return record.toString();
  }

  private String composition() {
    List<String> results = new ArrayList<>();
    results.add(result("fat", decimal(350 + random.nextInt(120), 2), "%"));
    results.add(result("protein", decimal(300 + random.nextInt(80), 2), "%"));
    results.add(result("lactose", decimal(450 + random.nextInt(50), 2), "%"));
    return results.toString().replace(", {", ",{");
  }

  private String hygiene() {
    List<String> results = new ArrayList<>();
    results.add(result("somatic cells", Integer.toString(60_000 + random.nextInt(300_000)), "/ml"));
    results.add(result("bacteria", Integer.toString(4_000 + random.nextInt(60_000)), "/ml"));
    return results.toString().replace(", {", ",{");
  }

  private static String result(String constituent, String value, String unit) {
    return String.format(
        Locale.ROOT,
        "{\"constituent\":\"%s\",\"value\":%s,\"unit\":\"%s\"}",
        constituent,
        value,
        unit);
  }

  private static String decimal(int unscaled, int scale) {
    return BigDecimal.valueOf(unscaled, scale).toPlainString();
  }
}
