package dev.dusky.bench;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** The ratios of several benchmarks, each in its process: noted one by one, then shown together. */
final class Results {

  /** A ratio above the kept one by this factor is shown as a loss. */
  private static final double LOSS = 1.15;

  private static final ObjectMapper JSON = new ObjectMapper();

  private Results() {}

  /**
   * The results of one run.
   *
   * @param load the machine's load average before it
   */
  record Run(String at, String machine, String java, double load, List<Ratio> ratios) {}

  /** Appends a ratio to the file that {@code -Dresults} names; does nothing without one. */
  static void note(Ratio ratio) throws IOException {
    String file = System.getProperty("results", "");
    if (!file.isEmpty()) {
      Files.writeString(
          Path.of(file),
          JSON.writeValueAsString(ratio) + "\n",
          StandardOpenOption.CREATE,
          StandardOpenOption.APPEND);
    }
  }

  /**
   * Prints the noted ratios as a Markdown table beside those of a kept run, and writes them as
   * JSON.
   *
   * @param noted the ratios, one JSON object per line
   * @param kept the run to compare with; it may not exist
   * @param out the file to write
   */
  static void table(Path noted, Path kept, Path out, double load) throws IOException {
    List<Ratio> ratios = new ArrayList<>();
    for (String line : Files.readAllLines(noted)) {
      ratios.add(JSON.readValue(line, Ratio.class));
    }
    Map<String, Ratio> before = new HashMap<>();
    if (Files.exists(kept)) {
      for (Ratio ratio : JSON.readValue(kept.toFile(), Run.class).ratios()) {
        before.put(ratio.what() + "/" + ratio.against(), ratio);
      }
    }
    System.out.println("| measured | compared with | median | min – max | kept | |");
    System.out.println("| --- | --- | --- | --- | --- | --- |");
    for (Ratio ratio : ratios) {
      Ratio old = before.get(ratio.what() + "/" + ratio.against());
      System.out.printf(
          Locale.ROOT,
          "| %s | %s | **%.2f** | %.2f – %.2f | %s | %s |%n",
          ratio.what(),
          ratio.against(),
          ratio.median(),
          ratio.least(),
          ratio.greatest(),
          old == null ? "" : String.format(Locale.ROOT, "%.2f", old.median()),
          old != null && ratio.median() > old.median() * LOSS ? "slower" : "");
    }
    String machine =
        "%d processors, %s %s"
            .formatted(
                Runtime.getRuntime().availableProcessors(),
                System.getProperty("os.name"),
                System.getProperty("os.arch"));
    Run run =
        new Run(
            Instant.now().toString(), machine, System.getProperty("java.vm.version"), load, ratios);
    JSON.writerWithDefaultPrettyPrinter().writeValue(out.toFile(), run);
    System.out.printf(
        Locale.ROOT, "%n%s, Java %s, load average before %.2f%n", machine, run.java(), load);
  }
}
