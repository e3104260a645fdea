package dev.dusky.app.load;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.workspace.EngineWorkspace;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.DetachedAttempts;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.preview.FittingFeed;
import dev.dusky.core.rehearse.CountingTable;
import dev.dusky.core.tables.DetachedTable;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.warehouse.Warehouse;
import java.io.IOException;
import java.util.List;
import java.util.Optional;

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
   * @return the reports as bytes
   */
  public static byte[] run(byte[] order, byte[] part) throws IOException {
    DispatchOrder of = DispatchOrder.read(order);
    Workspace here = EngineWorkspace.of(of.file(), of.configuration());
    Feed declared = here.configuration().feed(of.feed());
    Feed feed =
        of.tolerance()
            .map(LoadFeeds::tolerance)
            .map(t -> declared.withPolicies(declared.policies().withTolerance(t)))
            .orElse(declared);
    LoadRun run =
        LoadRun.of(feed, here.depot(feed), new LoadListener() {}, () -> false)
            .withFitting(new FittingFeed(here.configuration().feedsOf(feed)));
    List<FileReport> reports =
        new DetachedAttempts(run, table(here, feed, of), of).run(DispatchPart.read(part));
    try {
      return FileReport.bytes(reports);
    } finally {
      reports.forEach(FileReport::close);
    }
  }

  private static DetachedTable table(Workspace here, Feed feed, DispatchOrder order) {
    return order.table().equals(CountingTable.DESCRIPTION)
        ? new CountingTable()
        : here.detached(feed, order.table());
  }
}
