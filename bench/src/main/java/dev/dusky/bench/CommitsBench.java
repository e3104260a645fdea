package dev.dusky.bench;

import dev.dusky.core.table.TableName;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Comparator;
import java.util.Locale;
import java.util.stream.Stream;

/**
 * Loads of one small file each into one table in a folder, each a commit, and what they leave: how
 * the states that the table keeps make a commit slower.
 */
final class CommitsBench {

  private static final TableName TABLE = new TableName("bench", "docket_commits");

  private static final int ROWS = 100;

  private final Path file;
  private final int commits;

  CommitsBench(Path folder, int commits) throws IOException {
    this.file = BenchData.write(folder.resolve("small.csv"), ROWS);
    this.commits = commits;
  }

  void run() throws Exception {
    System.out.printf("%,d loads of one file of %d rows, each a commit:%n", commits, ROWS);
    try (BenchLake lake = new BenchLake()) {
      lake.tables().tables().create(BenchFeed.of("any", "small.csv", TABLE));
      double[] millis = new double[commits];
      for (int i = 0; i < commits; i++) {
        long start = System.nanoTime();
        BenchFeed.load(lake.tables(), file, TABLE, "bench" + i);
        millis[i] = (System.nanoTime() - start) / 1e6;
        if ((i + 1) % (commits / 4) == 0) {
          print(i + 1, Arrays.copyOfRange(millis, i + 1 - commits / 10, i + 1), lake.folder());
        }
      }
    }
  }

  private static void print(int commits, double[] last, Path folder) throws IOException {
    Arrays.sort(last);
    long all;
    long current;
    try (Stream<Path> files = Files.walk(folder)) {
      var metadata =
          files
              .filter(path -> path.toString().endsWith(".metadata.json"))
              .sorted(Comparator.comparing(Path::getFileName))
              .map(path -> path.toFile().length())
              .toList();
      all = metadata.stream().mapToLong(Long::longValue).sum();
      current = metadata.get(metadata.size() - 1);
    }
    System.out.printf(
        Locale.ROOT,
        "  after %,6d commits: median %.1f ms (min %.1f, 95%% %.1f, max %.1f), metadata file %,d bytes, all of them %,d%n",
        commits,
        last[last.length / 2],
        last[0],
        last[last.length * 95 / 100],
        last[last.length - 1],
        current,
        all);
  }
}
