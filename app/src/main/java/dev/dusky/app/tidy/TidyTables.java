package dev.dusky.app.tidy;

import dev.dusky.app.workspace.Version;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.tidy.Tidied;
import dev.dusky.core.tidy.TidyOrder;
import dev.dusky.core.tidy.Tidying;
import java.time.Duration;
import java.time.Instant;
import java.util.function.Consumer;

/** Tidies the tables of a warehouse, if they are in object storage. */
public final class TidyTables {

  private final Workspace workspace;

  /** The tables of that workspace's warehouse. */
  public TidyTables(Workspace workspace) {
    this.workspace = workspace;
  }

  /**
   * Tidies them.
   *
   * @param older how old files must be that no table needs, and former states
   * @param done receives what was done for each table
   */
  public void run(Duration older, boolean rehearsed, Consumer<Tidied> done) {
    if (older.compareTo(TidyOrder.LEAST) < 0) {
      throw Failure.usage("--older must be an hour or more")
          .because("younger files may belong to a load or merge that runs");
    }
    Tidying tidying =
        workspace
            .warehouse()
            .tidying()
            .orElseThrow(
                () ->
                    Failure.configuration("There is nothing to tidy here")
                        .because("the tables are a database's own affair")
                        .hint("tidy is for tables in object storage"));
    workspace.warehouse().ledger().prepare();
    LoadStart start =
        new LoadStart(
            LoadKind.TIDY,
            "",
            "",
            "",
            Workspace.person(),
            Workspace.host(),
            Version.NUMBER,
            Instant.now());
    tidying.run(new TidyOrder(older, rehearsed, start), done);
  }
}
