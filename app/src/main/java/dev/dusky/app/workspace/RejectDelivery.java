package dev.dusky.app.workspace;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.bytes.TemporaryFolder;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.DepotFolder;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.ledger.RejectEntries;
import dev.dusky.core.mend.RejectFile;
import dev.dusky.core.reject.RejectState;
import dev.dusky.core.reject.StoredReject;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/** Puts a load's rejects into a depot folder, a file for each file, for its sender to fetch. */
public final class RejectDelivery {

  private final Consumer<String> delivered;
  private final Consumer<String> failed;
  private final Workspace workspace;
  private final Feed feed;

  /**
   * Deliveries of a feed's rejects.
   *
   * @param delivered receives what was written
   * @param failed receives what could not be written
   */
  public RejectDelivery(
      Consumer<String> delivered, Consumer<String> failed, Workspace workspace, Feed feed) {
    this.delivered = delivered;
    this.failed = failed;
    this.workspace = workspace;
    this.feed = feed;
  }

  /**
   * Delivers the rejects of a load, if the feed says where to. The load is posted by then: what
   * cannot be delivered is reported, and can be exported at any time.
   */
  public void deliver(long loadId) {
    Optional<DepotFolder> to = feed.policies().rejectsTo();
    if (to.isEmpty() || loadId == 0) {
      return;
    }
    RejectEntries book = workspace.warehouse().ledger().rejects();
    RejectChoice choice =
        new RejectChoice(
            Optional.of(feed.name()),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.of(loadId),
            List.of(),
            Optional.of(RejectState.OPEN));
    Map<String, List<Long>> byFile = new LinkedHashMap<>();
    book.forEach(
        choice,
        reject ->
            byFile.computeIfAbsent(reject.file().path(), p -> new ArrayList<>()).add(reject.id()));
    for (Map.Entry<String, List<Long>> file : byFile.entrySet()) {
      try {
        deliver(book, to.get(), file.getKey(), file.getValue());
      } catch (Failure failure) {
        failed.accept(
            "The rejects of %s were not delivered: %s"
                .formatted(file.getKey(), failure.getMessage()));
      } catch (IOException e) {
        throw new UncheckedIOException("writing rejects to a temporary folder", e);
      }
    }
  }

  private void deliver(RejectEntries book, DepotFolder to, String path, List<Long> ids)
      throws IOException {
    Depot depot = workspace.depot(to.depot());
    Path folder = TemporaryFolder.newFolder();
    String name = path.substring(path.lastIndexOf('/') + 1).replace("!", "_") + ".rejects";
    RejectFile file = new RejectFile(folder.resolve(name), feed);
    try {
      try (file) {
        for (int from = 0; from < ids.size(); from += 1000) {
          List<Long> page = ids.subList(from, Math.min(ids.size(), from + 1000));
          for (StoredReject reject : book.list(RejectChoice.ids(page), page.size())) {
            file.add(reject);
          }
        }
      }
      String below = path.contains("/") ? path.substring(0, path.lastIndexOf('/') + 1) : "";
      for (Path written : file.paths()) {
        depot.put(to.folder() + below.replace("!", "_") + written.getFileName(), written);
      }
      delivered.accept(
          "%s of %s written to %s".formatted(Figures.plural(file.count(), "reject"), path, to));
    } finally {
      for (Path written : file.paths()) {
        Files.deleteIfExists(written);
      }
      Files.deleteIfExists(folder);
    }
  }
}
