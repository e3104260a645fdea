package dev.dusky.app.sql;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.bytes.TemporaryFolder;
import dev.dusky.core.expect.Expectations;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Arrivals;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.LoadMode;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.table.Arrangement;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import java.util.regex.Pattern;

/**
 * Asks staged files with SQL before anything of them is loaded. Each feed that the statement names
 * becomes a table of a database in a temporary file, filled by the ordinary reading: typed, with
 * rejects, repeats and conditions. Depot, warehouse and ledger stay as they are.
 */
public final class AskStaged {

  private static final Pattern QUESTION =
      Pattern.compile("(?is)^(\\s|--[^\\n]*\\n|/\\*.*?\\*/|\\()*(select|with|values|table)\\b.*");

  private final Workspace workspace;
  private final long mostRows;
  private final BooleanSupplier stopped;

  /**
   * A question.
   *
   * @param mostRows about how many rows of each feed are read
   */
  public AskStaged(Workspace workspace, long mostRows, BooleanSupplier stopped) {
    this.workspace = workspace;
    this.mostRows = mostRows;
    this.stopped = stopped;
  }

  /**
   * Fills the tables and runs the statement.
   *
   * @param filled receives how the table of each feed was filled
   */
  public void run(String statement, Consumer<FilledFeed> filled, ResultTaker taker) {
    if (!QUESTION.matcher(statement).matches()) {
      throw Failure.usage("This statement does not only ask")
          .because("staged files are asked with select, with, values or table")
          .hint("Write a query; to change the warehouse leave out --staged");
    }
    List<Feed> feeds = named(statement);
    try (Warehouse database = open()) {
      database.ledger().prepare();
      for (Feed feed : feeds) {
        filled.accept(fill(database, feed));
      }
      database.run(statement, taker);
    }
  }

  private static Warehouse open() {
    try {
      Path file = TemporaryFolder.newFolder().resolve("staged");
      return Warehouses.open(
          new DatabaseSettings("jdbc:h2:file:" + file, Optional.empty(), Optional.empty()));
    } catch (IOException e) {
      throw TemporaryFolder.failure("Making a database for staged files", e);
    }
  }

  /** The feeds whose names are words of the statement. */
  private List<Feed> named(String statement) {
    List<Feed> all = workspace.configuration().feedsOrAll(List.of());
    List<Feed> named =
        all.stream()
            .filter(
                feed ->
                    Pattern.compile("(?<![\\w.])" + Pattern.quote(feed.name()) + "(?![\\w.])")
                        .matcher(statement)
                        .find())
            .toList();
    if (named.isEmpty()) {
      throw Failure.usage("The statement names no feed")
          .because("the feeds are " + String.join(", ", all.stream().map(Feed::name).toList()))
          .hint("Use feeds as tables, such as select count(*) from " + all.get(0).name());
    }
    return named;
  }

  private FilledFeed fill(Warehouse database, Feed declared) {
    Feed feed = asked(declared);
    FillListener counts = new FillListener(mostRows);
    LoadRun run =
        LoadRun.of(
                feed,
                workspace.depot(feed),
                counts,
                () -> stopped.getAsBoolean() || counts.enough())
            .withMostRows(mostRows);
    try {
      new FeedLoader(database.ledger(), database.tables(), run).run(workspace.start(feed));
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.INTERRUPTED || stopped.getAsBoolean()) {
        throw failure;
      }
      // Enough rows were read; what was under way is left out.
    }
    return counts.result(feed.name());
  }

  /** The feed into its own table, telling rejects and touching nothing. */
  private static Feed asked(Feed declared) {
    FeedPolicies policies =
        new FeedPolicies(
            new Tolerance.Any(),
            new Tolerance.Any(),
            0,
            declared.limits(),
            Expectations.NONE,
            declared.policies().repeats(),
            new Arrivals(
                declared.policies().arrivals().since(),
                Arrivals.DEFAULT.ready(),
                declared.policies().arrivals().twins(),
                Arrivals.DEFAULT.revised(),
                Arrivals.DEFAULT.afterwards()),
            declared.policies().drift(),
            LoadMode.APPEND,
            Optional.empty(),
            Arrangement.NONE);
    return new Feed(
        declared.name(),
        declared.depot(),
        declared.files(),
        declared.layout(),
        new TableName("public", declared.name()),
        true,
        declared.columns(),
        declared.where(),
        declared.ignore(),
        policies);
  }
}
