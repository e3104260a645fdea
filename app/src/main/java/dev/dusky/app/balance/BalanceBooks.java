package dev.dusky.app.balance;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.balance.DepotCounts;
import dev.dusky.core.balance.FeedBalance;
import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.balance.Landing;
import dev.dusky.core.balance.MergeBalance;
import dev.dusky.core.balance.Proofs;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.KnownFiles;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.table.TableName;
import java.time.Instant;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.IntStream;

/** Compares the ledger with tables, targets and depots. */
public final class BalanceBooks {

  private final Workspace workspace;
  private final boolean depots;

  /**
   * A comparison.
   *
   * @param depots whether the depots are listed
   */
  public BalanceBooks(Workspace workspace, boolean depots) {
    this.workspace = workspace;
    this.depots = depots;
  }

  /** Compares these feeds and merges, or all; each result is given as soon as it is known. */
  public void run(List<String> names, Consumer<FeedBalance> feeds, Consumer<MergeBalance> merges) {
    Configuration configuration = workspace.configuration();
    List<String> ofMerges = names.stream().filter(configuration.merges()::containsKey).toList();
    List<String> ofFeeds = names.stream().filter(name -> !ofMerges.contains(name)).toList();
    boolean all = names.isEmpty();
    if (all || !ofFeeds.isEmpty()) {
      configuration.feedsOrAll(ofFeeds).forEach(feed -> feeds.accept(noted(feed)));
    }
    if (!ofMerges.isEmpty() || all && !configuration.merges().isEmpty()) {
      configuration.mergesOrAll(ofMerges).forEach(merge -> merges.accept(noted(merge)));
    }
  }

  private FeedBalance noted(Feed feed) {
    FeedBalance balance = feeds(List.of(feed)).get(0);
    note(feed.name(), balance.tablesAgree(), feed.into());
    return balance;
  }

  private MergeBalance noted(Merge merge) {
    MergeBalance balance = merge(merge);
    note(merge.name(), balance.agrees(), merge.into());
    return balance;
  }

  /** Notes the verdict for alerts, if they are configured. */
  private void note(String name, boolean agrees, TableName table) {
    if (workspace.configuration().alerts().isPresent()) {
      String words = "The ledger and %s %s".formatted(table, agrees ? "agree" : "do not agree");
      workspace.warehouse().alerts().proved(name, agrees, words, Instant.now());
    }
  }

  /** Compares feeds. */
  public List<FeedBalance> feeds(List<Feed> feeds) {
    Proofs proofs = workspace.warehouse().proofs();
    List<FeedProof> all =
        proofs.feeds(
            feeds.stream()
                .map(f -> new Landing(f.name(), f.into(), f.policies().expectations().totals()))
                .toList());
    return IntStream.range(0, feeds.size())
        .mapToObj(i -> feed(feeds.get(i), all.get(i), proofs))
        .toList();
  }

  private FeedBalance feed(Feed feed, FeedProof proof, Proofs proofs) {
    long strays = proof.provenance() ? proofs.strays(feed.into()) : 0;
    return new FeedBalance(
        feed, proof, strays, depots ? Optional.of(depot(feed, proofs)) : Optional.empty());
  }

  private DepotCounts depot(Feed feed, Proofs proofs) {
    KnownFiles files =
        new KnownFiles(workspace.warehouse().ledger(), workspace.depot(feed), feed, Instant.now());
    Map<FileState, Integer> counts = new EnumMap<>(FileState.class);
    files.forEachRemaining(known -> counts.merge(known.state(), 1, Integer::sum));
    long present =
        counts.getOrDefault(FileState.POSTED, 0)
            + counts.getOrDefault(FileState.TWIN, 0)
            + counts.getOrDefault(FileState.REVISED, 0);
    boolean whole = feed.policies().arrivals().since().isEmpty();
    return new DepotCounts(counts, whole ? proofs.settledPaths(feed.name()) - present : 0, whole);
  }

  /** Compares a merge. */
  public MergeBalance merge(Merge merge) {
    return new MergeBalance(merge, workspace.warehouse().proofs().merge(merge));
  }
}
