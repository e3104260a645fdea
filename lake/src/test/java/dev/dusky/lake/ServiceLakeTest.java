package dev.dusky.lake;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.secret.Secret;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.CatalogSettings;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.service.CatalogService;
import dev.dusky.lake.service.ServicePointers;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.apache.iceberg.CatalogProperties;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.DataFiles;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.RewriteFiles;
import org.apache.iceberg.Table;
import org.apache.iceberg.catalog.SessionCatalog.SessionContext;
import org.apache.iceberg.catalog.TableIdentifier;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.io.FileIO;
import org.apache.iceberg.rest.HTTPClient;
import org.apache.iceberg.rest.RESTSessionCatalog;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** The pointers are in a service, which cannot take part in the ledger's transaction. */
class ServiceLakeTest extends H2LakeTest {

  private CatalogServer server;
  private RESTSessionCatalog others;

  /** In a file, as what is wrapped later is opened again; others may look. */
  @Override
  DatabaseSettings address() {
    return new DatabaseSettings(
        "jdbc:h2:file:" + folder.resolve("ledger"), Optional.of("sa"), Optional.empty());
  }

  @Override
  FileIO files() throws Exception {
    FileIO files = super.files();
    server = CatalogServer.start(folder.getFileName().toString(), place(), files);
    return files;
  }

  @Override
  int stride() {
    return 4;
  }

  @AfterEach
  void stop() throws Exception {
    if (others != null) {
      others.close();
    }
    server.close();
  }

  private Optional<CatalogSettings.Client> client = Optional.empty();

  @Override
  LakeCatalog catalog(Database at, FileIO of) {
    CatalogSettings settings =
        new CatalogSettings(
            server.url(),
            Optional.empty(),
            client.isPresent() ? Optional.empty() : Optional.of(new Secret(() -> "us")),
            client,
            Map.of("rest.client.max-retries", "1"));
    CatalogService service = new CatalogService(settings, of);
    return new LakeCatalog(new ServicePointers(service, at), place(), of);
  }

  @Override
  Table asOthersSee(TableName name) {
    if (others == null) {
      others =
          new RESTSessionCatalog(
              config -> HTTPClient.builder(config).uri(config.get(CatalogProperties.URI)).build(),
              (session, config) -> files);
      others.initialize("other", Map.of(CatalogProperties.URI, server.url()));
    }
    return others.loadTable(
        SessionContext.createEmpty(), TableIdentifier.of(name.schema(), name.table()));
  }

  private static Feed feed() {
    return new FeedBuilder("milk").column("no", "bigint").build();
  }

  private static MemoryDepot depot(int files) {
    MemoryDepot depot = new MemoryDepot();
    for (int file = 0; file < files; file++) {
      depot.with(file + ".csv", "no\n" + file + "\n");
    }
    return depot;
  }

  private List<Long> numbers() throws Exception {
    return rows(feed().into()).stream().map(row -> (Long) row.getField("no")).sorted().toList();
  }

  /** What the ledger says was loaded, over all loads. */
  private long booked() throws Exception {
    return ((Number) ask("select coalesce(sum(loaded_rows), 0) from dusky.tally")).longValue();
  }

  private long intents() throws Exception {
    return ((Number) ask("select count(*) from dusky.intent")).longValue();
  }

  /** A load whose process is gone before or after the catalog has made its change. */
  private void killed(int files, boolean made) {
    server.disturb(
        new CatalogServer.Disturbance() {
          @Override
          public boolean before(String user) {
            if (!made) {
              server.kill("us");
            }
            return made;
          }

          @Override
          public boolean after(String user) {
            server.kill("us");
            return false;
          }
        });
    assertThrows(Failure.class, () -> load(feed(), depot(files), this.files));
    server.calm();
    server.revive("us");
  }

  /** A change of another engine, of which the ledger knows nothing. */
  private DataFile appendedByOthers() throws Exception {
    Table table = asOthersSee(feed().into());
    DataFile any;
    try (CloseableIterable<FileScanTask> tasks = table.newScan().planFiles()) {
      any = tasks.iterator().next().file().copy();
    }
    table.newAppend().appendFile(DataFiles.builder(table.spec()).copy(any).build()).commit();
    return any;
  }

  private void othersAppendBeforeTheNextChange() {
    boolean[] done = new boolean[1];
    server.disturb(
        new CatalogServer.Disturbance() {
          @Override
          public boolean before(String user) {
            if (user.equals("us") && !done[0]) {
              done[0] = true;
              try {
                appendedByOthers();
              } catch (Exception e) {
                throw new IllegalStateException(e);
              }
            }
            return true;
          }
        });
  }

  @Test
  void theRowsOfAKilledLoadAreTakenBackByTheNext() throws Exception {
    load(feed(), depot(1), files);
    killed(2, true);
    assertEquals(List.of(0L, 1L), numbers(), "the catalog has them");
    assertEquals(1, intents());
    assertEquals(1, booked());
    load(feed(), depot(2), files);
    assertEquals(List.of(0L, 1L), numbers());
    assertEquals(2, booked());
    assertEquals(0, intents());
  }

  @Test
  void theFirstRowsOfATableAreTakenBackToo() throws Exception {
    killed(1, true);
    assertEquals(List.of(0L), numbers());
    assertEquals(0, booked());
    load(feed(), depot(1), files);
    assertEquals(List.of(0L), numbers());
    assertEquals(1, booked());
  }

  @Test
  void whatOthersHaveAppendedSinceStays() throws Exception {
    load(feed(), depot(1), files);
    killed(2, true);
    appendedByOthers();
    load(feed(), depot(1), files);
    assertEquals(2, numbers().size(), numbers().toString());
    assertEquals(0, intents());
    load(feed(), depot(2), files);
    assertEquals(3, numbers().size());
    assertEquals(2, booked());
  }

  /** Killed after the catalog has its change, and before the ledger knows that all is settled. */
  @Test
  void aProcessThatIsKilledWhileItTakesBackIsFollowedByTheNext() throws Exception {
    load(feed(), depot(1), files);
    for (boolean others : List.of(false, true)) {
      long before = booked();
      killed((int) before + 1, true);
      if (others) {
        appendedByOthers();
      }
      killed((int) before + 1, true);
      killed((int) before + 1, true);
      load(feed(), depot((int) before + 1), files);
      assertEquals(before + 1, booked());
      assertEquals(0, intents());
    }
    assertEquals(4, numbers().size(), "three of ours, and one of others");
  }

  @Test
  void aChangeThatComesAfterItWasGivenUpIsRefused() throws Exception {
    load(feed(), depot(1), files);
    killed(2, false);
    assertEquals(1, intents());
    load(feed(), depot(1), files);
    assertEquals(0, intents());
    String late = server.replay();
    assertTrue(late.contains("branch main has changed"), late);
    assertEquals(List.of(0L), numbers());
    load(feed(), depot(2), files);
    assertEquals(List.of(0L, 1L), numbers());
  }

  @Test
  void whatCannotBeTakenBackIsSaidUntilItIs() throws Exception {
    load(feed(), depot(1), files);
    long before = asOthersSee(feed().into()).currentSnapshot().snapshotId();
    killed(2, true);
    Table table = asOthersSee(feed().into());
    Set<DataFile> all = new HashSet<>();
    try (CloseableIterable<FileScanTask> tasks = table.newScan().planFiles()) {
      tasks.forEach(task -> all.add(task.file().copy()));
    }
    DataFile first = all.iterator().next();
    DataFile one =
        DataFiles.builder(table.spec())
            .copy(first)
            .withPath(first.location() + ".rewritten")
            .build();
    RewriteFiles rewrite = table.newRewrite();
    all.forEach(rewrite::deleteFile);
    rewrite.addFile(one).commit();
    Failure stuck = assertThrows(Failure.class, () -> load(feed(), depot(2), files));
    assertTrue(stuck.getMessage().contains("Bring the table back to state " + before), "" + stuck);
    asOthersSee(feed().into()).manageSnapshots().rollbackTo(before).commit();
    load(feed(), depot(2), files);
    assertEquals(List.of(0L, 1L), numbers());
    assertEquals(2, booked());
  }

  @Test
  void rowsAreAppendedToATableThatOthersChangeMeanwhile() throws Exception {
    load(feed(), depot(1), files);
    othersAppendBeforeTheNextChange();
    load(feed(), depot(2), files);
    assertEquals(List.of(0L, 0L, 1L), numbers());
    assertEquals(2, booked());
    assertEquals(0, intents());
  }

  @Test
  void aChangeThatIsNoAppendAndMeetsAnotherIsGivenUp() throws Exception {
    load(feed(), depot(2), files);
    othersAppendBeforeTheNextChange();
    Row posting = posting();
    Failure failure = assertThrows(Failure.class, () -> takeOut(posting));
    assertTrue(failure.getMessage().contains("changed by another engine"), failure.getMessage());
    assertEquals(0, intents());
    long rows = numbers().size();
    assertTrue(takeOut(posting) > 0);
    assertTrue(numbers().size() < rows);
  }

  /** A reader that comes between the catalog's change and the ledger's commit waits for it. */
  @Test
  void whoLooksWhileAChangeIsCommittedWaitsForItAndDoesNotTakeItForDead() throws Exception {
    load(feed(), depot(1), files);
    List<Thread> readers = new ArrayList<>();
    try (Database other = open(address())) {
      LakeTables tables = tables(other, files);
      server.disturb(
          new CatalogServer.Disturbance() {
            @Override
            public boolean after(String user) {
              Thread reader = new Thread(() -> tables.shape(feed().into()));
              readers.add(reader);
              reader.start();
              while (reader.getState() == Thread.State.RUNNABLE
                  || reader.getState() == Thread.State.NEW) {
                Thread.onSpinWait();
              }
              return true;
            }
          });
      assertEquals(1, load(feed(), depot(2), files).tally().loaded());
      for (Thread reader : readers) {
        reader.join();
      }
    }
    assertEquals(1, readers.size());
    assertEquals(List.of(0L, 1L), numbers());
    assertEquals(2, booked());
    assertEquals(0, intents());
  }

  @Test
  void aTokenIsFetchedForAClientAndItsSecret() throws Exception {
    client =
        Optional.of(
            new CatalogSettings.Client(new Secret(() -> "dairy"), new Secret(() -> "hush")));
    assertEquals(1, load(feed(), depot(1), files).tally().loaded());
    assertTrue(
        server.users().stream().anyMatch(user -> user.startsWith("client-credentials-token")),
        server.users().toString());
  }

  @Test
  void aCatalogThatDoesNotAnswerIsNamedWithWhy() throws Exception {
    server.close();
    Failure gone = assertThrows(Failure.class, () -> load(feed(), depot(1), files));
    assertTrue(
        gone.getMessage().contains(server.url()) && gone.getMessage().contains("refused"),
        gone.getMessage());
  }

  private record Row(long load, long file) {}

  private Row posting() throws Exception {
    Record row = rows(feed().into()).get(0);
    return new Row((Long) row.getField("dusky_load"), (Long) row.getField("dusky_file"));
  }

  private long takeOut(Row row) {
    LakeTables tables = tables(files);
    return database.transact(
        "Taking out",
        h -> tables.takeOut(JdbcTransaction.of(h), feed().into(), row.load(), row.file()));
  }
}
