package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.repeat.RepeatPolicy.Keep;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class LakeWarehouseTest extends WarehouseContract {

  @TempDir Path folder;

  @Test
  void aDataFileThatIsCutIsNamed() throws IOException {
    Feed feed = new FeedBuilder("cut").column("no", "bigint not null").build();
    load(feed, new MemoryDepot().with("a.csv", "no\n1\n2\n"));
    Path cut;
    try (Stream<Path> files = Files.walk(folder.resolve("tables"))) {
      cut = files.filter(file -> file.toString().endsWith(".parquet")).findFirst().orElseThrow();
    }
    Files.write(cut, Arrays.copyOf(Files.readAllBytes(cut), 100));
    String said =
        assertThrows(
                Failure.class, () -> warehouse.proofs().feed("cut", feed.into(), List.of("no")))
            .getMessage();
    assertTrue(said.contains(cut.getFileName().toString()), said);
  }

  /** Behind 100,000 rows two threads encode, each into a data file apart. */
  @Test
  void theRowsOfALargeFileAreAllThereAndInTheirOrder() {
    int rows = 150_000;
    StringBuilder text = new StringBuilder("no\n");
    for (int row = 1; row <= rows; row++) {
      text.append(row * 7L).append('\n');
    }
    Feed feed = new FeedBuilder("large").column("no", "bigint not null").build();
    load(feed, new MemoryDepot().with("a.csv", text.toString()));
    assertEquals(
        List.of(List.of((long) rows, (long) rows, 0L)),
        query(
            "select count(*), count(distinct no), count(case when no <> dusky_row * 7 then 1 end)"
                + " from intake.large"));
    Feed again =
        feed.withPolicies(
            feed.policies()
                .withRepeats(
                    new RepeatPolicy(
                        true, List.of(), RepeatPolicy.Scope.TABLE, Keep.FIRST, List.of(), 256)));
    LoadResult result = load(again, new MemoryDepot().with("b.csv", text + "8\n"));
    assertEquals(Tally.posted(rows + 1, 1, rows, 0, 0), result.tally());
    assertEquals(
        rows, warehouse.reversals().file(start(feed), feed.into(), "a.csv", "wrong").rows());
    assertEquals(1, count("intake.large"));
  }

  @Override
  boolean ruled() {
    return false;
  }

  @Override
  Warehouse opened() {
    return MirroredLake.in(folder);
  }

  @Override
  DatabaseSettings address() {
    return TestH2.in(folder);
  }
}
