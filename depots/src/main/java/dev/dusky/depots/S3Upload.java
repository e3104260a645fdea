package dev.dusky.depots;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.function.LongConsumer;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.core.sync.RequestBody;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.model.CompletedPart;

/**
 * Stores one local file, in parts if it is large. Each request carries the MD5 of its bytes, which
 * the server checks, and the etag that comes back is checked again here.
 */
final class S3Upload {

  /** Files from this size on are stored in parts. */
  static final long MULTIPART_FROM = 16L << 20;

  /** The size of a part. */
  static final long PART = 16L << 20;

  /** The metadata that carries the file's SHA-256. */
  static final String FINGERPRINT = "dusky-sha256";

  private static final String TYPE = "application/octet-stream";

  private final S3Client client;
  private final S3Failures failures;
  private final String doing;
  private final String bucket;
  private final String key;
  private final Path local;
  private final LongConsumer sent;
  private final long size;

  S3Upload(
      S3Client client,
      S3Failures failures,
      String bucket,
      String key,
      Path local,
      LongConsumer sent)
      throws IOException {
    this.size = Files.size(local);
    this.client = client;
    this.failures = failures;
    this.doing = "Staging " + local + " as " + key;
    this.bucket = bucket;
    this.key = key;
    this.local = local;
    this.sent = sent;
  }

  /** How many bytes the file has. */
  long size() {
    return size;
  }

  /** Stores the file and gives its etag. */
  String run() throws IOException {
    Map<String, String> metadata = Map.of(FINGERPRINT, FileDigests.sha256(local));
    if (size < MULTIPART_FROM) {
      byte[] md5 = FileDigests.of("MD5", local, 0, size);
      String etag =
          client
              .putObject(
                  request ->
                      request
                          .bucket(bucket)
                          .key(key)
                          .metadata(metadata)
                          .contentMD5(Base64.getEncoder().encodeToString(md5)),
                  body(0, size))
              .eTag();
      check(etag, md5);
      sent.accept(size);
      return etag;
    }
    return inParts(metadata);
  }

  private RequestBody body(long start, long length) {
    return RequestBody.fromContentProvider(
        () -> {
          try {
            return new FileRegion(local, start, length);
          } catch (IOException e) {
            throw new UncheckedIOException(e);
          }
        },
        length,
        TYPE);
  }

  private String inParts(Map<String, String> metadata) throws IOException {
    String id =
        failures.require(
            doing,
            "the number of the upload",
            client
                .createMultipartUpload(
                    request -> request.bucket(bucket).key(key).metadata(metadata))
                .uploadId());
    try {
      List<CompletedPart> parts = new ArrayList<>();
      for (long start = 0; start < size; start += PART) {
        parts.add(part(id, parts.size() + 1, start, Math.min(PART, size - start)));
      }
      return failures.require(
          doing,
          "an etag",
          client
              .completeMultipartUpload(
                  request ->
                      request
                          .bucket(bucket)
                          .key(key)
                          .uploadId(id)
                          .multipartUpload(upload -> upload.parts(parts)))
              .eTag());
    } catch (SdkException | IOException | Failure e) {
      abort(id, e);
      throw e;
    }
  }

  private CompletedPart part(String id, int number, long start, long length) throws IOException {
    byte[] md5 = FileDigests.of("MD5", local, start, length);
    String etag =
        client
            .uploadPart(
                request ->
                    request
                        .bucket(bucket)
                        .key(key)
                        .uploadId(id)
                        .partNumber(number)
                        .contentMD5(Base64.getEncoder().encodeToString(md5)),
                body(start, length))
            .eTag();
    check(etag, md5);
    sent.accept(length);
    return CompletedPart.builder().partNumber(number).eTag(etag).build();
  }

  /** An etag that is an MD5 must be that of the bytes sent; with server-side keys it is none. */
  private void check(String etag, byte[] md5) {
    String bare = S3Depot.bare(failures.require(doing, "an etag", etag));
    if (bare.matches("[0-9a-f]{32}") && !bare.equals(HexFormat.of().formatHex(md5))) {
      throw Failure.depot(doing + " failed")
          .because("the depot stored other bytes than were sent (etag " + bare + ")")
          .hint(
              "Stage it again; if it happens again, check the network between this machine and the depot");
    }
  }

  private void abort(String id, Exception reason) {
    try {
      client.abortMultipartUpload(request -> request.bucket(bucket).key(key).uploadId(id));
    } catch (SdkException e) {
      reason.addSuppressed(e);
    }
  }
}
