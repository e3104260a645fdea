package dev.dusky.warehouses.proofs;

import dev.dusky.core.balance.Chains;
import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.balance.Landing;
import dev.dusky.core.balance.MergeProof;
import dev.dusky.core.balance.Proofs;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.Tables;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.merging.MergeTables;
import java.util.List;
import java.util.Optional;

/** Comparisons of a ledger in a database with tables. */
public final class JdbcProofs implements Proofs {

  private final FeedProofs feeds;
  private final MergeProofs merges;

  /** Proofs of that database. */
  public JdbcProofs(Database database, Tables tables, MergeTables targets) {
    this(database, tables, new SqlLandedTables(), targets);
  }

  /** Proofs of a ledger in that database, and of landing tables and targets elsewhere. */
  public JdbcProofs(Database database, Tables tables, LandedTables landed, MergeTables targets) {
    this.feeds = new FeedProofs(database, tables, landed);
    this.merges = new MergeProofs(database, targets);
  }

  @Override
  public List<FeedProof> feeds(List<Landing> landings) {
    return feeds.feeds(landings);
  }

  @Override
  public long settledPaths(String feed) {
    return feeds.settledPaths(feed);
  }

  @Override
  public long strays(TableName table) {
    return feeds.strays(table);
  }

  @Override
  public Optional<MergeProof> merge(Merge merge) {
    return merges.prove(merge);
  }

  @Override
  public Optional<Chains> chains(Merge merge) {
    return merges.chains(merge);
  }
}
