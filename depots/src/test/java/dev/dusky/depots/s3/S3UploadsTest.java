package dev.dusky.depots.s3;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.StaleUpload;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.transfer.FileParts;
import dev.dusky.standin.Faults;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import software.amazon.awssdk.auth.credentials.AwsBasicCredentials;
import software.amazon.awssdk.auth.credentials.StaticCredentialsProvider;
import software.amazon.awssdk.core.checksums.RequestChecksumCalculation;
import software.amazon.awssdk.core.sync.RequestBody;
import software.amazon.awssdk.http.urlconnection.UrlConnectionHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.S3Configuration;

/** Uploads in parts: continued after a kill, never mixed with other content, dropped when stale. */
class S3UploadsTest {

  private static final int PART = (int) FileParts.PART_SIZE;

  @TempDir Path folder;
  private StandIn store;
  private Depot depot;
  private S3Client client;
  private byte[] content;
  private Path file;

  @BeforeEach
  void start() throws IOException {
    Files.createDirectories(folder.resolve("buckets/intake"));
    store = StandIn.start(folder.resolve("buckets"), "key", "secret", 0);
    depot = S3StandInTest.open("s3://intake/daily", store.endpoint(), "key", "secret");
    client =
        S3Client.builder()
            .httpClient(UrlConnectionHttpClient.create())
            .endpointOverride(URI.create(store.endpoint()))
            .region(Region.US_EAST_1)
            .forcePathStyle(true)
            .credentialsProvider(
                StaticCredentialsProvider.create(AwsBasicCredentials.create("key", "secret")))
            .serviceConfiguration(S3Configuration.builder().chunkedEncodingEnabled(false).build())
            .requestChecksumCalculation(RequestChecksumCalculation.WHEN_REQUIRED)
            .build();
    content = new byte[PART + 4321];
    new Random(3).nextBytes(content);
    file = Files.write(folder.resolve("big.bin"), content);
  }

  @AfterEach
  void stop() {
    client.close();
    depot.close();
    store.close();
  }

  /** What a process leaves that is killed behind the first part. */
  private String begun(byte[] part, String saysItIs) {
    String id =
        client
            .createMultipartUpload(
                r ->
                    r.bucket("intake")
                        .key("daily/big.bin")
                        .metadata(Map.of(S3Upload.CONTENT, saysItIs)))
            .uploadId();
    client.uploadPart(
        r -> r.bucket("intake").key("daily/big.bin").uploadId(id).partNumber(1),
        RequestBody.fromBytes(part));
    return id;
  }

  private String ownEtag() throws IOException {
    try (Uplink alone = Uplink.single()) {
      return FileParts.of(file, alone, PART).etag();
    }
  }

  private void checkStored() throws IOException {
    StagedFile staged = depot.look("big.bin").orElseThrow();
    try (InputStream in = depot.open(staged)) {
      assertArrayEquals(content, in.readAllBytes());
    }
    assertTrue(depot.same(staged, file));
    assertEquals(
        ownEtag(),
        client
            .headObject(r -> r.bucket("intake").key("daily/big.bin"))
            .metadata()
            .get(S3Upload.CONTENT));
  }

  @Test
  void anUploadThatWasKilledIsContinued() throws IOException {
    begun(Arrays.copyOf(content, PART), ownEtag());
    AtomicLong sent = new AtomicLong();
    try (Uplink uplink = new Uplink(3, 0, sent::addAndGet)) {
      depot.put("big.bin", file, uplink);
    }
    assertEquals(List.of(), depot.unfinished(), "that very upload was finished");
    assertEquals(content.length, sent.get());
    checkStored();
  }

  @Test
  void anUploadOfOtherContentIsNotContinued() throws IOException {
    byte[] other = Arrays.copyOf(content, PART);
    other[77] ^= 1;
    begun(other, "whatever");
    depot.put("big.bin", file);
    List<StaleUpload> left = depot.unfinished();
    assertEquals(List.of("big.bin"), left.stream().map(StaleUpload::path).toList());
    checkStored();
    depot.drop(left.get(0));
    assertEquals(List.of(), depot.unfinished());
  }

  @Test
  void anUploadThatBeganLikeThisFileDoesNotKeepItsNameForTheContent() throws IOException {
    begun(Arrays.copyOf(content, PART), "a file that has changed since");
    depot.put("big.bin", file);
    checkStored();
  }

  @Test
  void withoutTheRightToListUploadsFilesAreStoredAllTheSame() throws IOException {
    begun(Arrays.copyOf(content, PART), ownEtag());
    store.faults().deny(Faults.Right.LIST);
    depot.put("big.bin", file);
    store.faults().clear();
    assertEquals(1, depot.unfinished().size());
    checkStored();
  }

  @Test
  void partsGrowWithTheFile() {
    assertEquals(PART, FileParts.partSize(1, PART));
    assertEquals(PART, FileParts.partSize(10_000L * PART, PART));
    for (long size : new long[] {10_000L * PART + 1, 1L << 40, 5L << 40}) {
      long part = FileParts.partSize(size, PART);
      assertTrue((size + part - 1) / part <= FileParts.MOST_PARTS, size + ": " + part);
      assertTrue(part <= 5L << 30, "stores take at most 5 GiB in a part");
      assertEquals(0, part % (1 << 20));
    }
  }

  @Test
  void aLargeObjectIsCopiedInParts() throws IOException {
    StagedFile staged = depot.put("big.bin", file);
    S3Failures failures =
        new S3Failures(
            DepotAddress.of("yard", "s3://intake/daily")
                .at(store.endpoint())
                .signed(new Secret(() -> "key"), new Secret(() -> "secret")),
            "intake",
            () -> "keys");
    S3Copy copy = new S3Copy(client, failures, "intake", "Moving", PART, PART);
    copy.run(staged, "daily/big.bin", "daily/done/big.bin", false);
    StagedFile moved = depot.look("done/big.bin").orElseThrow();
    try (InputStream in = depot.open(moved)) {
      assertArrayEquals(content, in.readAllBytes());
    }
    assertTrue(
        S3Copy.isOf(client.headObject(r -> r.bucket("intake").key("daily/done/big.bin")), staged));
    assertTrue(depot.move(staged, "done/big.bin"), "the copy of a move that was killed");
    assertFalse(depot.look("big.bin").isPresent());
    assertEquals(List.of(), depot.unfinished());
  }

  @Test
  void aFileThatCannotBeReadIsAFailureOfTheFile() throws IOException {
    Failure failure =
        assertThrows(Failure.class, () -> depot.put("x", folder.resolve("no-such-file")));
    assertEquals(Failure.Kind.FILE, failure.kind());
  }
}
