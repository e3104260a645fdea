package dev.dusky.depots.s3;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.Depots;
import dev.dusky.depots.FaultContract;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.transfer.FileParts;
import dev.dusky.standin.Faults;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The S3 client against the stand-in, which can fail in all the ways that object stores do. */
class S3StandInTest extends FaultContract {

  @TempDir Path buckets;
  private StandIn store;
  private Depot depot;

  @BeforeEach
  void start() throws IOException {
    Files.createDirectories(buckets.resolve("intake"));
    store = StandIn.start(buckets, "key", "secret", 0);
    depot = open("s3://intake/daily", store.endpoint(), "key", "secret");
  }

  @AfterEach
  void stop() {
    depot.close();
    store.close();
  }

  static Depot open(String at, String endpoint, String key, String secret) {
    return Depots.open(
        DepotAddress.of("yard", at)
            .at(endpoint)
            .signed(new Secret(() -> key), new Secret(() -> secret)),
        Path.of("."));
  }

  @Override
  protected Depot depot() {
    return depot;
  }

  @Override
  protected Faults faults() {
    return store.faults();
  }

  private static String message(org.junit.jupiter.api.function.Executable work) {
    Failure failure = assertThrows(Failure.class, work);
    assertEquals(Failure.Kind.DEPOT, failure.kind());
    assertFalse(failure.getMessage().contains("secret,"), failure.getMessage());
    return failure.getMessage();
  }

  @Test
  void aHundredThousandFilesAreListedPageByPage() throws IOException {
    store.pretend("many", 100_000);
    Iterator<StagedFile> files = open("s3://many", store.endpoint(), "key", "secret").list("", "");
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
  void largeFilesGoInPartsAndAreRecognisedAgain() throws IOException {
    byte[] bytes = random((int) (2 * FileParts.PART_SIZE + 11234));
    StagedFile staged = put("big", bytes);
    assertTrue(staged.mark().endsWith("-3"), staged.mark());
    assertTrue(depot.same(staged, file("l", bytes)));
    try (InputStream in = depot.open(staged)) {
      assertArrayEquals(bytes, in.readAllBytes());
    }
    bytes[20_000_000] ^= 1;
    assertFalse(depot.same(staged, file("l", bytes)));
  }

  @Test
  void eachVagueFailureHasItsOwnWords() throws IOException {
    StagedFile staged = put("a", random(10));
    String unreachable =
        message(() -> open("s3://intake", "http://127.0.0.1:1", "key", "secret").list(""));
    String unknownKey =
        message(() -> open("s3://intake", store.endpoint(), "other", "secret").list(""));
    String wrongSecret =
        message(() -> open("s3://intake", store.endpoint(), "key", "wrong").list(""));
    String noBucket =
        message(() -> open("s3://nowhere", store.endpoint(), "key", "secret").list(""));
    store.faults().deny(Faults.Right.LIST);
    String noList = message(() -> depot.list(""));
    store.faults().clear();
    store.faults().deny(Faults.Right.READ);
    String noRead = message(() -> depot.open(staged));
    store.faults().clear();
    store.faults().deny(Faults.Right.WRITE);
    String noWrite = message(() -> put("b", random(10)));
    assertTrue(unreachable.contains("cannot be reached"), unreachable);
    assertTrue(unknownKey.contains("does not know the access key"), unknownKey);
    assertTrue(wrongSecret.contains("does not accept the secret key"), wrongSecret);
    assertTrue(noBucket.contains("has no bucket 'nowhere'"), noBucket);
    assertTrue(noList.contains("denies the right to list"), noList);
    assertTrue(noRead.contains("denies the right to read"), noRead);
    assertTrue(noWrite.contains("denies the right to write"), noWrite);
    assertEquals(
        7, Set.of(unreachable, unknownKey, wrongSecret, noBucket, noList, noRead, noWrite).size());
  }
}
