package dev.dusky.depots;

import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import software.amazon.awssdk.core.sync.RequestBody;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.model.CompletedPart;
import software.amazon.awssdk.services.s3.model.NoSuchUploadException;

/**
 * Stores one local file, in parts if it is large, several of them concurrently. Each request
 * carries the MD5 of its bytes, which the server checks, and the etag that comes back is checked
 * again here. An upload that a killed process left is continued: parts of it that have the digest
 * of the file's own are not sent again.
 */
final class S3Upload {

  /** The metadata that carries the file's digest in the form of {@link FileParts#etag}. */
  static final String CONTENT = "dusky-content";

  private static final String TYPE = "application/octet-stream";

  private final S3Client client;
  private final S3Failures failures;
  private final S3Uploads uploads;
  private final String doing;
  private final String bucket;
  private final String key;
  private final Path local;
  private final Uplink uplink;

  S3Upload(
      S3Client client, S3Failures failures, String bucket, String key, Path local, Uplink uplink) {
    this.client = client;
    this.failures = failures;
    this.uploads = new S3Uploads(client, failures, bucket);
    this.doing = "Staging " + local + " as " + key;
    this.bucket = bucket;
    this.key = key;
    this.local = local;
    this.uplink = uplink;
  }

  /** Stores the file and gives its etag. */
  String run(FileParts file) throws IOException {
    if (!file.several()) {
      return whole(file.parts().get(0));
    }
    Optional<S3Uploads.Unfinished> left = uploads.left(key, file);
    if (left.isPresent()) {
      try {
        String etag = inParts(file, left.get());
        if (describes(file)) {
          return etag;
        }
        // It was begun for a file that has changed since: what it says of itself is wrong.
      } catch (NoSuchUploadException e) {
        // Another process has finished or dropped it meanwhile.
      }
    }
    return anew(file);
  }

  private boolean describes(FileParts file) throws IOException {
    return uplink.request(
        () ->
            file.etag()
                .equals(
                    client
                        .headObject(request -> request.bucket(bucket).key(key))
                        .metadata()
                        .get(CONTENT)));
  }

  private String anew(FileParts file) throws IOException {
    String id =
        failures.require(
            doing,
            "the number of the upload",
            client
                .createMultipartUpload(
                    request ->
                        request.bucket(bucket).key(key).metadata(Map.of(CONTENT, file.etag())))
                .uploadId());
    return inParts(file, new S3Uploads.Unfinished(id, Map.of()));
  }

  private String whole(FileParts.Part all) throws IOException {
    String etag =
        uplink.request(
            () ->
                client
                    .putObject(
                        request ->
                            request
                                .bucket(bucket)
                                .key(key)
                                .metadata(Map.of(CONTENT, all.etag()))
                                .contentMD5(all.contentMd5()),
                        body(all))
                    .eTag());
    check(etag, all);
    uplink.sent(all.length());
    return etag;
  }

  private RequestBody body(FileParts.Part part) {
    return RequestBody.fromContentProvider(
        () -> {
          try {
            return uplink.paced(new FileRegion(local, part.start(), part.length()));
          } catch (IOException e) {
            throw new UncheckedIOException(e);
          }
        },
        part.length(),
        TYPE);
  }

  /** What is sent stays there when a part fails, so that the next staging can continue. */
  private String inParts(FileParts file, S3Uploads.Unfinished upload) throws IOException {
    List<Callable<CompletedPart>> work = new ArrayList<>();
    for (FileParts.Part part : file.parts()) {
      String there = upload.parts().get(part.number());
      work.add(there == null ? () -> part(upload.id(), part) : () -> completed(part, there));
    }
    List<CompletedPart> parts = uplink.all(work);
    String etag =
        uplink.request(
            () ->
                client
                    .completeMultipartUpload(
                        request ->
                            request
                                .bucket(bucket)
                                .key(key)
                                .uploadId(upload.id())
                                .multipartUpload(all -> all.parts(parts)))
                    .eTag());
    return failures.require(doing, "an etag", etag);
  }

  private CompletedPart part(String id, FileParts.Part part) throws IOException {
    String etag =
        uplink.request(
            () ->
                client
                    .uploadPart(
                        request ->
                            request
                                .bucket(bucket)
                                .key(key)
                                .uploadId(id)
                                .partNumber(part.number())
                                .contentMD5(part.contentMd5()),
                        body(part))
                    .eTag());
    check(etag, part);
    return completed(part, etag);
  }

  private CompletedPart completed(FileParts.Part part, String etag) {
    uplink.sent(part.length());
    return CompletedPart.builder().partNumber(part.number()).eTag(etag).build();
  }

  /** An etag that is an MD5 must be that of the bytes sent; with server-side keys it is none. */
  private void check(String etag, FileParts.Part part) {
    String bare = S3Depot.bare(failures.require(doing, "an etag", etag));
    if (bare.matches("[0-9a-f]{32}") && !bare.equals(part.etag())) {
      throw Failure.depot(doing + " failed")
          .because("the depot stored other bytes than were sent (etag " + bare + ")")
          .hint(
              "The file may have changed meanwhile; stage it again. If it happens again, check the network between this machine and the depot");
    }
  }
}
