package dev.dusky.depots.azure;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.Depots;
import dev.dusky.depots.FaultContract;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.transfer.FileParts;
import dev.dusky.standin.BlobStandIn;
import dev.dusky.standin.Faults;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.api.io.TempDir;

/** The client of Azure's blob storage against the stand-in. */
class AzureStandInTest extends FaultContract {

  static final String KEY = "c2VjcmV0IGtleSBvZiB0aGUgYWNjb3VudA==";

  @TempDir Path containers;
  private BlobStandIn store;
  private Depot depot;

  @BeforeEach
  void start() throws IOException {
    Files.createDirectories(containers.resolve("intake"));
    store = BlobStandIn.start(containers, "wrenfold", KEY);
    depot = open("azure://wrenfold/intake/daily", new Credentials.AccountKey(secret(KEY)));
  }

  @AfterEach
  void stop() {
    depot.close();
    store.close();
  }

  static Secret secret(String text) {
    return new Secret(() -> text);
  }

  private Depot open(String at, Credentials credentials) {
    return Depots.open(
        DepotAddress.of("yard", at).at(store.endpoint()).with(credentials), Path.of("."));
  }

  @Override
  protected Depot depot() {
    return depot;
  }

  @Override
  protected Faults faults() {
    return store.faults();
  }

  private static String message(Executable work) {
    Failure failure = assertThrows(Failure.class, work);
    assertEquals(Failure.Kind.DEPOT, failure.kind());
    assertFalse(failure.getMessage().contains(KEY), failure.getMessage());
    return failure.getMessage();
  }

  @Test
  void aHundredThousandFilesAreListedPageByPage() throws IOException {
    store.pretend("many", 100_000);
    Iterator<StagedFile> files =
        open("azure://wrenfold/many", new Credentials.AccountKey(secret(KEY))).list("", "");
    int count = 0;
    String last = "";
    while (files.hasNext()) {
      String path = files.next().path();
      assertTrue(path.compareTo(last) > 0, path);
      last = path;
      count++;
    }
    assertEquals(100_000, count);
  }

  @Test
  void largeFilesGoInBlocksAndAreRecognisedAgain() throws IOException {
    byte[] bytes = random((int) (2 * FileParts.PART_SIZE + 11234));
    StagedFile staged = put("big", bytes);
    assertTrue(depot.same(staged, file("l", bytes)));
    try (InputStream in = depot.open(staged)) {
      assertArrayEquals(bytes, in.readAllBytes());
    }
    bytes[20_000_000] ^= 1;
    assertFalse(depot.same(staged, file("l", bytes)));
  }

  @Test
  void blocksThatWereSentBeforeAKillAreNotSentAgain() throws IOException {
    byte[] bytes = random((int) (2 * FileParts.PART_SIZE + 5));
    Path local = file("l", bytes);
    AtomicLong sent = new AtomicLong();
    try (Uplink uplink =
        new Uplink(
            1,
            0,
            count -> {
              if (sent.addAndGet(count) > FileParts.PART_SIZE) {
                throw new IllegalStateException("killed");
              }
            })) {
      assertThrows(RuntimeException.class, () -> depot.put("big", local, uplink));
    }
    long before = store.received();
    StagedFile staged = depot.put("big", local);
    assertTrue(store.received() - before < bytes.length, "all was sent again");
    assertTrue(depot.same(staged, local));
  }

  @Test
  void eachFailureNamesItsCause() throws IOException {
    StagedFile staged = put("a", random(10));
    Credentials good = new Credentials.AccountKey(secret(KEY));
    assertTrue(
        message(
                () ->
                    open(
                            "azure://wrenfold/intake",
                            new Credentials.AccountKey(secret("b3RoZXIga2V5")))
                        .list(""))
            .contains("does not accept the credentials"));
    assertTrue(
        message(() -> open("azure://wrenfold/nowhere", good).list(""))
            .contains("has no container 'nowhere'"));
    assertTrue(
        message(() -> open("azure://wrenfold/intake", new Credentials.Anonymous()).list(""))
            .contains("is read without credentials"));
    store.faults().deny(Faults.Right.LIST);
    assertTrue(message(() -> depot.list("")).contains("denies the right to list"));
    store.faults().clear();
    store.faults().deny(Faults.Right.READ);
    assertTrue(
        message(() -> depot.open(staged).readAllBytes()).contains("denies the right to read"));
    store.faults().clear();
    store.faults().deny(Faults.Right.WRITE);
    assertTrue(message(() -> put("b", random(10))).contains("denies the right to write"));
  }

  @Test
  void sharedAccessAndConnectionStringsAreAccepted() throws IOException {
    put("a", random(10));
    store.accept("theSignature");
    String shared = "sv=2025-01-05&sig=theSignature";
    for (Credentials each :
        new Credentials[] {
          new Credentials.SharedAccess(secret(shared)),
          new Credentials.SharedAccess(secret("?" + shared)),
          new Credentials.Connection(
              secret(
                  "AccountName=wrenfold;AccountKey=%s;BlobEndpoint=%s/wrenfold"
                      .formatted(KEY, store.endpoint())))
        }) {
      Depot other = open("azure://wrenfold/intake/daily", each);
      assertEquals("a", other.list("").next().path(), each.words());
      assertTrue(other.move(other.look("a").orElseThrow(), "b"), each.words());
      assertTrue(other.move(other.look("b").orElseThrow(), "a"), each.words());
    }
  }
}
