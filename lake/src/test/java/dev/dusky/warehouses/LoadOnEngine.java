package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;

import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.warehouse.Warehouse;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** A load whose files an engine's machines read. */
final class LoadOnEngine {

  private LoadOnEngine() {}

  /**
   * Loads three files, one of which is refused; a machine is lost meanwhile if that is asked.
   *
   * @param tables where the tables are, as {@link FileReadingWorker} is told
   */
  static void check(Warehouse lake, String tables, Path folder, String name, boolean losing)
      throws IOException {
    Files.writeString(folder.resolve("a.csv"), "no,v\n1,10\n2,20\nx,1\n");
    Files.writeString(folder.resolve("b.csv"), "no,v\nx,1\ny,1\n3,30\n");
    Files.writeString(folder.resolve("c.csv"), "no,v\n4,40\n4,40\n");
    if (losing) {
      Files.createFile(folder.resolve(FileReadingWorker.DEADLY));
    }
    Feed feed = FileReadingWorker.feed(name);
    assertEquals(Tally.posted(5, 4, 1, 0), load(lake, tables, folder, feed).tally());
    assertFalse(Files.exists(folder.resolve(FileReadingWorker.DEADLY)), "no machine was lost");
    proven(lake, feed);
  }

  /**
   * Loads more files than one machine reads at a time, each with a row of the one before, and then
   * one with a row that the table has.
   */
  static void checkAmongFiles(Warehouse lake, String tables, Path folder, String name)
      throws IOException {
    for (int file = 0; file < 70; file++) {
      Files.writeString(
          folder.resolve("%02d.csv".formatted(file)),
          "no,v\n%d,1\n%d,1\n".formatted(file, file + 1));
    }
    Feed feed = FileReadingWorker.amongFiles(name);
    Tally tally = load(lake, tables, folder, feed).tally();
    assertEquals(71, tally.loaded());
    assertEquals(69, tally.duplicate());
    Files.writeString(folder.resolve("later.csv"), "no,v\n70,1\n71,1\n72,1\n");
    assertEquals(Tally.posted(3, 2, 1, 0, 0), load(lake, tables, folder, feed).tally());
    proven(lake, feed);
  }

  private static LoadResult load(Warehouse lake, String tables, Path folder, Feed feed) {
    LoadRun run =
        LoadRun.of(feed, FileReadingWorker.depot(folder), new LoadListener() {}, () -> false)
            .withDispatch(
                Optional.of(
                    new LoadRun.Dispatch(
                        lake.dispatcher(),
                        DispatchOrder.of(
                            FileReadingWorker.class.getName(),
                            tables,
                            folder.toString(),
                            feed.name(),
                            Optional.empty()))));
    return new FeedLoader(lake.ledger(), lake.tables(), run).run(WarehouseTesting.start(feed));
  }

  private static void proven(Warehouse lake, Feed feed) {
    assertEquals(List.of(), lake.proofs().feed(feed.name(), feed.into(), List.of()).differences());
    assertEquals(0, lake.proofs().strays(feed.into()));
  }
}
