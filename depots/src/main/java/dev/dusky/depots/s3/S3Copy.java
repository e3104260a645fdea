package dev.dusky.depots.s3;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.depots.transfer.FileParts;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.model.CompletedPart;
import software.amazon.awssdk.services.s3.model.CopyObjectResponse;
import software.amazon.awssdk.services.s3.model.HeadObjectResponse;

/**
 * Copies an object within its bucket, if it still is the one that was listed: at once, or in parts
 * where it is larger than stores copy at once.
 */
final class S3Copy {

  /** The metadata of a copy in parts: the size and etag of its original. */
  private static final String ORIGINAL = "dusky-original";

  /** The largest object that stores copy at once. */
  static final long MOST_AT_ONCE = 5L << 30;

  private static final long LEAST_PART = 512L << 20;

  private final S3Client client;
  private final S3Failures failures;
  private final String bucket;
  private final String doing;
  private final long mostAtOnce;
  private final long leastPart;

  S3Copy(S3Client client, S3Failures failures, String bucket, String doing) {
    this(client, failures, bucket, doing, MOST_AT_ONCE, LEAST_PART);
  }

  S3Copy(
      S3Client client,
      S3Failures failures,
      String bucket,
      String doing,
      long mostAtOnce,
      long leastPart) {
    this.client = client;
    this.failures = failures;
    this.bucket = bucket;
    this.doing = doing;
    this.mostAtOnce = mostAtOnce;
    this.leastPart = leastPart;
  }

  /** Whether the object that was found is a copy of that file. */
  static boolean isOf(HeadObjectResponse found, StagedFile file) {
    boolean same =
        found.contentLength() == file.size() && S3Depot.bare(found.eTag()).equals(file.mark());
    return same || file.version().equals(found.metadata().get(ORIGINAL));
  }

  /** Copies; with {@code onlyIfFree} a file that is at the new place is left alone. */
  void run(StagedFile file, String from, String to, boolean onlyIfFree) {
    if (file.size() > mostAtOnce) {
      inParts(file, from, to, onlyIfFree);
      return;
    }
    CopyObjectResponse answer =
        client.copyObject(
            request ->
                request
                    .sourceBucket(bucket)
                    .sourceKey(from)
                    .copySourceIfMatch('"' + file.mark() + '"')
                    .destinationBucket(bucket)
                    .destinationKey(to)
                    .ifNoneMatch(onlyIfFree ? "*" : null));
    failures.require(doing, "a result", answer.copyObjectResult());
  }

  private void inParts(StagedFile file, String from, String to, boolean onlyIfFree) {
    Map<String, String> metadata =
        new HashMap<>(client.headObject(r -> r.bucket(bucket).key(from)).metadata());
    metadata.put(ORIGINAL, file.version());
    String id =
        failures.require(
            doing,
            "the number of the copy",
            client
                .createMultipartUpload(r -> r.bucket(bucket).key(to).metadata(metadata))
                .uploadId());
    try {
      List<CompletedPart> parts = new ArrayList<>();
      long size = Math.max(leastPart, FileParts.partSize(file.size(), FileParts.PART_SIZE));
      for (long start = 0; start < file.size(); start += size) {
        parts.add(part(file, from, to, id, parts.size() + 1, start, size));
      }
      client.completeMultipartUpload(
          request ->
              request
                  .bucket(bucket)
                  .key(to)
                  .uploadId(id)
                  .ifNoneMatch(onlyIfFree ? "*" : null)
                  .multipartUpload(all -> all.parts(parts)));
    } catch (SdkException e) {
      try {
        new S3Uploads(client, failures, bucket).abort(to, id);
      } catch (SdkException alsoThis) {
        e.addSuppressed(alsoThis); // the reason of the failure is the first
      }
      throw e;
    }
  }

  private CompletedPart part(
      StagedFile file, String from, String to, String id, int number, long start, long size) {
    long end = Math.min(file.size(), start + size) - 1;
    String etag =
        failures.require(
            doing,
            "an etag",
            client
                .uploadPartCopy(
                    request ->
                        request
                            .sourceBucket(bucket)
                            .sourceKey(from)
                            .copySourceIfMatch('"' + file.mark() + '"')
                            .copySourceRange("bytes=%d-%d".formatted(start, end))
                            .destinationBucket(bucket)
                            .destinationKey(to)
                            .uploadId(id)
                            .partNumber(number))
                .copyPartResult()
                .eTag());
    return CompletedPart.builder().partNumber(number).eTag(etag).build();
  }
}
