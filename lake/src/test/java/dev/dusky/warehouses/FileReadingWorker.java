package dev.dusky.warehouses;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.DetachedAttempts;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.depots.DepotAddress;
import dev.dusky.depots.Depots;
import dev.dusky.testkit.FeedBuilder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** Attempts files of a folder on a machine of the engine, which it may end in the middle. */
public final class FileReadingWorker {

  /** While this file is in the folder, the next attempt ends its process and removes it. */
  static final String DEADLY = "deadly";

  private FileReadingWorker() {}

  static Feed feed(String name) {
    return new FeedBuilder(name)
        .column("no", "bigint")
        .column("v", "integer")
        .tolerance("1")
        .build();
  }

  static Depot depot(Path folder) {
    return Depots.open(
        new DepotAddress(
            "yard",
            "file:" + folder,
            Optional.empty(),
            "none",
            Optional.empty(),
            Optional.empty(),
            false),
        folder);
  }

  /** Attempts a part, as the engine calls it. */
  public static byte[] run(byte[] order, byte[] part) throws IOException {
    DispatchOrder of = DispatchOrder.read(order);
    Path folder = Path.of(of.file());
    Feed feed = feed(of.feed());
    String[] tables = of.configuration().split(" ");
    LakeSettings settings =
        new LakeSettings(
            tables[0],
            tables.length < 2 ? Optional.empty() : Optional.of(TableStore.at(tables[1])),
            new DatabaseSettings("jdbc:none", Optional.empty(), Optional.empty()),
            Optional.empty());
    List<FileReport> reports =
        new DetachedAttempts(
                LoadRun.of(feed, depot(folder), new LoadListener() {}, () -> false),
                Warehouses.detached(settings, feed.into(), of.table()),
                of)
            .run(DispatchPart.read(part));
    if (Files.deleteIfExists(folder.resolve(DEADLY))) {
      Runtime.getRuntime().halt(9); // its data files are written, and nobody hears of them
    }
    return FileReport.bytes(reports);
  }
}
