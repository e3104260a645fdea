package dev.dusky.app.load;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.DetachedAttempts;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.preview.FittingFeed;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;

/**
 * Attempts files on a machine of the engine. The depots of a load stay open for the parts that
 * follow; a part is attempted on the thread that asks.
 */
public final class FileWorker {

  private static String configured = "";
  private static Workspace workspace;

  private FileWorker() {}

  /**
   * Attempts a part.
   *
   * @param order a {@link DispatchOrder} as bytes
   * @param part a {@link DispatchPart} as bytes
   * @return the reports as bytes
   */
  public static byte[] run(byte[] order, byte[] part) throws IOException {
    DispatchOrder of = DispatchOrder.read(order);
    Workspace here = workspace(of);
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
        new DetachedAttempts(run, here.detached(feed, of.table()), of).run(DispatchPart.read(part));
    try {
      return FileReport.bytes(reports);
    } finally {
      reports.forEach(FileReport::close);
    }
  }

  private static synchronized Workspace workspace(DispatchOrder order) {
    String wanted = order.file() + "\n" + order.configuration();
    if (workspace == null || !configured.equals(wanted)) {
      if (workspace != null) {
        workspace.close();
      }
      workspace = new Workspace(Configuration.read(Path.of(order.file()), order.configuration()));
      configured = wanted;
    }
    return workspace;
  }
}
