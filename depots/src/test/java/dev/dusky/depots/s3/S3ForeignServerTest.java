package dev.dusky.depots.s3;

import dev.dusky.core.depot.Depot;
import dev.dusky.depots.DepotContract;
import dev.dusky.depots.OddPaths;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import org.gaul.s3proxy.S3Proxy;
import org.gaul.s3proxy.auth.AuthenticationType;
import org.gaul.s3proxy.blobstore.BlobStore;
import org.gaul.s3proxy.nio2blob.FilesystemNio2BlobStore;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** The same promises against a server of the S3 protocol that others wrote. */
class S3ForeignServerTest extends DepotContract {

  @TempDir static Path buckets;
  private static final AtomicInteger BUCKETS = new AtomicInteger();
  private static BlobStore blobs;
  private static S3Proxy server;
  private Depot depot;

  @BeforeAll
  static void start() throws Exception {
    blobs = new FilesystemNio2BlobStore(buckets.toString());
    server =
        S3Proxy.builder()
            .blobStore(blobs)
            .endpoint(URI.create("http://127.0.0.1:0"))
            .awsAuthentication(AuthenticationType.AWS_V4, "key", "secret")
            .build();
    server.start();
  }

  @AfterAll
  static void stop() throws Exception {
    server.stop();
    blobs.close();
  }

  @BeforeEach
  void open() throws Exception {
    String bucket = "intake" + BUCKETS.incrementAndGet();
    Files.createDirectories(buckets.resolve(bucket));
    depot =
        S3StandInTest.open(
            "s3://" + bucket + "/daily", "http://127.0.0.1:" + server.getPort(), "key", "secret");
  }

  @AfterEach
  void close() {
    depot.close();
  }

  /** It keeps objects as files. */
  @Override
  protected List<String> oddPaths() {
    return OddPaths.with(path -> !OddPaths.resolved(path));
  }

  @Override
  protected Depot depot() {
    return depot;
  }
}
