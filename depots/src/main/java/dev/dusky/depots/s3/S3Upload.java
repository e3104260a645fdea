package dev.dusky.depots.s3;

import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.transfer.ContentType;
import dev.dusky.depots.transfer.FileParts;
import dev.dusky.depots.transfer.FileRegion;
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
import software.amazon.awssdk.services.s3.model.PutObjectResponse;
import software.amazon.awssdk.services.s3.model.ServerSideEncryption;
import software.amazon.awssdk.services.s3.model.UploadPartResponse;

/**
 * Stores one local file, in parts if it is large, several of them concurrently. Each request
 * carries the MD5 of its bytes, which the server checks, and the etag that comes back is checked
 * again here. An upload that a killed process left is continued: parts of it that have the digest
 * of the file's own are not sent again.
 */
final class S3Upload {

  /** The metadata that carries the file's digest in the form of {@link FileParts#etag}. */
  static final String CONTENT = "dusky-content";

  /** The metadata that carries the size of the parts that the digest is of. */
  static final String PART_SIZE = "dusky-part-size";

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
      return whole(file, file.parts().get(0));
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

  private static Map<String, String> metadata(String digest, FileParts file) {
    return Map.of(CONTENT, digest, PART_SIZE, Long.toString(file.partSize()));
  }

  private String anew(FileParts file) throws IOException {
    String id =
        failures.require(
            doing,
            "the number of the upload",
            client
                .createMultipartUpload(
                    request ->
                        request.bucket(bucket).key(key).metadata(metadata(file.etag(), file)))
                .uploadId());
    return inParts(file, new S3Uploads.Unfinished(id, Map.of()));
  }

  private String whole(FileParts file, FileParts.Part all) throws IOException {
    PutObjectResponse answer =
        uplink.request(
            () ->
                client.putObject(
                    request ->
                        request
                            .bucket(bucket)
                            .key(key)
                            .metadata(metadata(all.etag(), file))
                            .contentMD5(all.contentMd5()),
                    body(all)));
    String etag = check(answer.eTag(), answer.serverSideEncryption(), all);
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
        ContentType.of(key));
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
    UploadPartResponse answer =
        uplink.request(
            () ->
                client.uploadPart(
                    request ->
                        request
                            .bucket(bucket)
                            .key(key)
                            .uploadId(id)
                            .partNumber(part.number())
                            .contentMD5(part.contentMd5()),
                    body(part)));
    return completed(part, check(answer.eTag(), answer.serverSideEncryption(), part));
  }

  private CompletedPart completed(FileParts.Part part, String etag) {
    uplink.sent(part.length());
    return CompletedPart.builder().partNumber(part.number()).eTag(etag).build();
  }

  /**
   * An etag that is an MD5 must be that of the bytes sent. Where a key service encrypts, the etag
   * has the form of an MD5 and is none; there the digest that the request carried is the check.
   */
  private String check(String etag, ServerSideEncryption encryption, FileParts.Part part) {
    String bare = S3Depot.bare(failures.require(doing, "an etag", etag));
    boolean plain = encryption == null || encryption == ServerSideEncryption.AES256;
    if (plain && bare.matches("[0-9a-f]{32}") && !bare.equals(part.etag())) {
      throw Failure.depot(doing + " failed")
          .because("the depot stored other bytes than were sent (etag " + bare + ")")
          .hint(
              "The file may have changed meanwhile; stage it again. If it happens again, check the network between this machine and the depot");
    }
    return etag;
  }
}
