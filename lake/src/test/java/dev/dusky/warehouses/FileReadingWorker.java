package dev.dusky.warehouses;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.dispatch.SurveyPart;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.DetachedAttempts;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.repeat.HashBuckets;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.depots.Depots;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.testkit.FeedBuilder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;

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
    return Depots.open(DepotAddress.of("yard", "file:" + folder), folder);
  }

  /** A feed among whose files, and in whose table, repeats are looked for. */
  static Feed amongFiles(String name) {
    Feed feed = feed(name);
    RepeatPolicy policy =
        new RepeatPolicy(
            true,
            List.of("no"),
            RepeatPolicy.Scope.TABLE,
            RepeatPolicy.Keep.FIRST,
            List.of(),
            RepeatPolicy.DEFAULT_MEMORY);
    return feed.withPolicies(feed.policies().withRepeats(policy));
  }

  private static DetachedAttempts attempts(DispatchOrder of, byte[][] left) {
    Feed feed = of.hashes().isPresent() ? amongFiles(of.feed()) : feed(of.feed());
    String[] tables = of.configuration().split(" ");
    LakeSettings settings =
        new LakeSettings(
            tables[0],
            tables.length < 2 ? Optional.empty() : Optional.of(TableStore.at(tables[1])),
            new DatabaseSettings("jdbc:none", Optional.empty(), Optional.empty()),
            Optional.empty(),
            Optional.empty());
    return new DetachedAttempts(
        LoadRun.of(feed, depot(Path.of(of.file())), new LoadListener() {}, () -> false),
        Warehouses.detached(settings, feed.into(), of.table()),
        of,
        List.of(left));
  }

  /** Attempts a part, as the engine calls it. */
  public static byte[] run(byte[] order, byte[] part, byte[][] left) throws IOException {
    DispatchOrder of = DispatchOrder.read(order);
    List<FileReport> reports = attempts(of, left).run((DispatchPart) SurveyPart.read(part));
    if (Files.deleteIfExists(Path.of(of.file()).resolve(DEADLY))) {
      Runtime.getRuntime().halt(9); // its data files are written, and nobody hears of them
    }
    return FileReport.bytes(reports);
  }

  /** The hashes of a part's rows, as the engine asks for them. */
  public static byte[][] survey(byte[] order, byte[] part, int buckets) throws IOException {
    return attempts(DispatchOrder.read(order), new byte[0][])
        .survey(SurveyPart.read(part), buckets);
  }

  /** The rows of a bucket that are left out, as the engine asks for them. */
  public static byte[][] resolve(int[] parts, byte[][] rows) {
    SortedMap<Integer, byte[]> hashes = new TreeMap<>();
    for (int i = 0; i < parts.length; i++) {
      hashes.put(parts[i], rows[i]);
    }
    SortedMap<Integer, byte[]> left = HashBuckets.resolve(hashes);
    return Arrays.stream(parts)
        .mapToObj(part -> left.getOrDefault(part, new byte[0]))
        .toArray(byte[][]::new);
  }
}
