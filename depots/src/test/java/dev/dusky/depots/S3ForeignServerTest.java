package dev.dusky.depots;

import dev.dusky.core.depot.Depot;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import org.gaul.s3proxy.S3Proxy;
import org.gaul.s3proxy.auth.AuthenticationType;
import org.gaul.s3proxy.blobstore.BlobStore;
import org.gaul.s3proxy.nio2blob.FilesystemNio2BlobStore;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** The same promises against a server of the S3 protocol that others wrote. */
class S3ForeignServerTest extends DepotContract {

  @TempDir Path buckets;
  private BlobStore blobs;
  private S3Proxy server;
  private Depot depot;

  @BeforeEach
  void start() throws Exception {
    Files.createDirectories(buckets.resolve("intake"));
    blobs = new FilesystemNio2BlobStore(buckets.toString());
    server =
        S3Proxy.builder()
            .blobStore(blobs)
            .endpoint(URI.create("http://127.0.0.1:0"))
            .awsAuthentication(AuthenticationType.AWS_V4, "key", "secret")
            .build();
    server.start();
    depot =
        S3StandInTest.open(
            "s3://intake/daily", "http://127.0.0.1:" + server.getPort(), "key", "secret");
  }

  @AfterEach
  void stop() throws Exception {
    depot.close();
    server.stop();
    blobs.close();
  }

  @Override
  Depot depot() {
    return depot;
  }
}
