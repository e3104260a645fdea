package dev.dusky.app.load;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.workspace.EngineWorkspace;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.dispatch.LandedPart;
import dev.dusky.core.dispatch.SurveyPart;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.DetachedAttempts;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.preview.FittingFeed;
import dev.dusky.core.rehearse.CountingTable;
import dev.dusky.core.repeat.HashBuckets;
import dev.dusky.core.tables.DetachedTable;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.warehouse.Warehouse;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;

/** Attempts files on a machine of the engine. A part is attempted on the thread that asks. */
public final class FileWorker {

  private FileWorker() {}

  /**
   * Has the files of a feed attempted on the engine's machines.
   *
   * @param tolerance the tolerance that replaces the feed's, if one does
   */
  static LoadRun.Dispatch dispatch(
      Configuration configuration, Warehouse warehouse, Feed feed, Optional<Tolerance> tolerance) {
    return new LoadRun.Dispatch(
        warehouse.dispatcher(),
        DispatchOrder.of(
            FileWorker.class.getName(),
            configuration.text(),
            configuration.file().toAbsolutePath().toString(),
            feed.name(),
            tolerance.map(Tolerance::toString)));
  }

  /**
   * Attempts a part.
   *
   * @param order a {@link DispatchOrder} as bytes
   * @param part a {@link DispatchPart} as bytes
   * @param left rows that are left out as repeats, as {@link #resolve} gives them for the part
   * @return the reports as bytes
   */
  public static byte[] run(byte[] order, byte[] part, byte[][] left) throws IOException {
    DispatchOrder of = DispatchOrder.read(order);
    List<FileReport> reports =
        attempts(of, of.table(), left).run((DispatchPart) SurveyPart.read(part));
    try {
      return FileReport.bytes(reports);
    } finally {
      reports.forEach(FileReport::close);
    }
  }

  /** The hashes of the rows of a {@link SurveyPart}, in that many buckets. */
  public static byte[][] survey(byte[] order, byte[] part, int buckets) throws IOException {
    DispatchOrder of = DispatchOrder.read(order);
    SurveyPart rows = SurveyPart.read(part);
    String table = rows instanceof LandedPart landed ? landed.piece().table() : of.table();
    return attempts(of, table, new byte[0][]).survey(rows, buckets);
  }

  /**
   * The rows of a bucket that are left out.
   *
   * @param parts the numbers of the parts, ascending
   * @param rows the bucket of each of these parts
   * @return for each part, in the same order, the rows that are left out
   */
  public static byte[][] resolve(int[] parts, byte[][] rows) {
    SortedMap<Integer, byte[]> hashes = new TreeMap<>();
    for (int i = 0; i < parts.length; i++) {
      hashes.put(parts[i], rows[i]);
    }
    SortedMap<Integer, byte[]> left = HashBuckets.resolve(hashes);
    byte[][] all = new byte[parts.length][];
    for (int i = 0; i < parts.length; i++) {
      all[i] = left.getOrDefault(parts[i], new byte[0]);
    }
    return all;
  }

  private static Workspace workspace(DispatchOrder of) {
    return EngineWorkspace.of(of.file(), of.configuration());
  }

  private static Feed feed(Workspace here, DispatchOrder of) {
    Feed declared = here.configuration().feed(of.feed());
    return of.tolerance()
        .map(LoadFeeds::tolerance)
        .map(t -> declared.withPolicies(declared.policies().withTolerance(t)))
        .orElse(declared);
  }

  private static DetachedAttempts attempts(DispatchOrder of, String table, byte[][] left) {
    Workspace here = workspace(of);
    Feed feed = feed(here, of);
    LoadRun run =
        LoadRun.of(feed, here.depot(feed), new LoadListener() {}, () -> false)
            .withFitting(new FittingFeed(here.configuration().feedsOf(feed)));
    return new DetachedAttempts(run, table(here, feed, table), of, List.of(left));
  }

  private static DetachedTable table(Workspace here, Feed feed, String table) {
    return table.equals(CountingTable.DESCRIPTION)
        ? new CountingTable()
        : here.detached(feed, table);
  }
}
