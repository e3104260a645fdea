package dev.dusky.bench;

import java.nio.file.Files;
import java.nio.file.Path;

/** Runs one benchmark by name, or writes the data for one. */
final class Bench {

  private static final long ROWS = 2_000_000;

  private Bench() {}

  /**
   * Usage: {@code reading | ranges | formats FORMAT | postgres | h2 | lake | refusals [DATABASE] |
   * readback | commits | repeats | files | merge | sums | histories | stage | transfer | data FILE
   * ROWS | table NOTED KEPT OUT LOAD}, with {@code -Drows=N} for fewer rows, {@code -Dturns=N} for
   * other numbers of pairs, {@code -Dresults=FILE} to note the ratios.
   */
  public static void main(String[] args) throws Exception {
    if (args.length == 3 && args[0].equals("data")) {
      BenchData.write(Path.of(args[1]), Long.parseLong(args[2]));
      return;
    }
    if (args.length == 5 && args[0].equals("table")) {
      Results.table(
          Path.of(args[1]), Path.of(args[2]), Path.of(args[3]), Double.parseDouble(args[4]));
      return;
    }
    long rows = Long.getLong("rows", ROWS);
    Path folder = Files.createTempDirectory("dusky-bench-");
    Path file = BenchData.write(folder.resolve("dockets.csv"), rows);
    System.out.printf(
        "%,d rows, 8 columns, %,d bytes; %s%n",
        rows, Files.size(file), System.getProperty("java.vm.version"));
    try {
      switch (args.length == 0 ? "" : args[0]) {
        case "reading" -> new ReadingBench(file, rows).run();
        case "ranges" -> new RangesBench(file, rows).run();
        case "formats" -> new FormatsBench(file, rows).run(args.length == 1 ? "" : args[1]);
        case "postgres" -> new PostgresBench(file, rows).run();
        case "lake" -> new LakeBench(file, rows).run();
        case "readback" -> new ReadBackBench(file).run();
        case "commits" -> new CommitsBench(folder, Integer.getInteger("commits", 1_000)).run();
        case "refusals" -> new RefusalBench(file, rows).run(args.length == 1 ? "" : args[1]);
        case "repeats" -> new RepeatBench(folder, Math.min(rows, 500_000)).run();
        case "files" -> new FilesBench(folder).run();
        case "merge" -> new MergeBench(rows, MergeBench.Kind.ROWS).run();
        case "sums" -> new MergeBench(rows, MergeBench.Kind.SUMS).run();
        case "histories" -> new MergeBench(rows, MergeBench.Kind.VERSIONS).run();
        case "h2" -> new H2Bench(file, rows).run();
        case "stage" -> new StageBench(folder, file).run();
        case "transfer" -> new TransferBench(folder, file, rows).run();
        default ->
            System.out.println(
                "say one of: reading, ranges, formats FORMAT, postgres, h2, lake, readback, commits, refusals, repeats, files, merge, sums, histories, stage, transfer, data FILE ROWS");
      }
    } finally {
      try (var left = Files.walk(folder)) {
        for (Path path : left.sorted(java.util.Comparator.reverseOrder()).toList()) {
          Files.delete(path);
        }
      }
    }
  }
}
