package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.tidy.Tidied;
import dev.dusky.core.tidy.TidyOrder;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@Tag("contracts")
class LakeReplaceTest extends ReplaceContract {

  @TempDir Path folder;

  private List<List<Object>> all() {
    return query("select no, dusky_load, dusky_file, dusky_row from intake.tidied order by no");
  }

  private void tidy(Feed feed) {
    List<Tidied> done = new ArrayList<>();
    warehouse
        .tidying()
        .orElseThrow()
        .run(new TidyOrder(Duration.ZERO, false, start(feed)), done::add);
    done.forEach(one -> assertEquals("", one.failure(), one.toString()));
  }

  @Test
  void whatALoadReplacedComesBackWhateverIsTidied() {
    Feed appending = new FeedBuilder("tidied").column("no", "bigint").build();
    Feed replacing = new FeedBuilder("tidied").column("no", "bigint").replacing(100).build();
    MemoryDepot depot = new MemoryDepot();
    for (int i = 0; i < 8; i++) {
      depot.with("%d.csv".formatted(i), "no\n%d\n%d\n".formatted(i, 10 + i));
    }
    load(appending, depot); // one data file for all, of which a reversal leaves a part
    warehouse.reversals().file(start(appending), appending.into(), "3.csv", "wrong");
    load(appending, depot.with("8.csv", "no\n20\n"));
    List<List<Object>> before = all();
    LoadResult replaced = load(replacing, new MemoryDepot().with("a.csv", "no\n77\n"));
    assertEquals(before.size(), replaced.replaced().rows());
    assertEquals(1, count("intake.tidied"));
    tidy(replacing);
    tidy(replacing);
    assertEquals(
        before.size(),
        warehouse
            .reversals()
            .load(start(replacing), replacing.into(), replaced.loadId(), false, "back")
            .restored());
    assertEquals(before, all());
    tidy(replacing);
    assertEquals(before, all());
    assertEquals(
        List.of(), warehouse.proofs().feed("tidied", replacing.into(), List.of()).differences());
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
