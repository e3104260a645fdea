package dev.dusky.depots.s3;

import dev.dusky.core.depot.StaleUpload;
import dev.dusky.depots.transfer.FileParts;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.model.MultipartUpload;
import software.amazon.awssdk.services.s3.model.Part;
import software.amazon.awssdk.services.s3.model.S3Exception;

/** Uploads in parts that were begun and neither finished nor dropped. */
final class S3Uploads {

  /**
   * An upload that can be continued.
   *
   * @param id its number in the store
   * @param parts the etags of the parts that are there, by number
   */
  record Unfinished(String id, Map<Integer, String> parts) {}

  private final S3Client client;
  private final S3Failures failures;
  private final String bucket;

  S3Uploads(S3Client client, S3Failures failures, String bucket) {
    this.client = client;
    this.failures = failures;
    this.bucket = bucket;
  }

  /**
   * The latest upload of that key all of whose parts are parts of this file; there must be at least
   * one, for nothing else says that it was begun for the same content. Stores that do not list
   * uploads, or not to us, have none.
   */
  Optional<Unfinished> left(String key, FileParts file) {
    try {
      return begun(key).stream()
          .filter(upload -> upload.key().equals(key))
          .sorted(Comparator.comparing(MultipartUpload::initiated).reversed())
          .flatMap(upload -> parts(key, upload.uploadId(), file).stream())
          .findFirst();
    } catch (S3Exception e) {
      if (e.statusCode() == 403 || e.statusCode() == 404 || e.statusCode() == 501) {
        return Optional.empty();
      }
      throw e;
    }
  }

  private Optional<Unfinished> parts(String key, String id, FileParts file) {
    Map<Integer, String> there = new HashMap<>();
    for (Part part :
        client
            .listPartsPaginator(request -> request.bucket(bucket).key(key).uploadId(id))
            .parts()) {
      int number = part.partNumber();
      if (number > file.parts().size()) {
        return Optional.empty();
      }
      FileParts.Part own = file.parts().get(number - 1);
      String etag = S3Depot.bare(failures.require("Looking for parts", "an etag", part.eTag()));
      if (part.size() != own.length() || !etag.equals(own.etag())) {
        return Optional.empty();
      }
      there.put(number, part.eTag());
    }
    return there.isEmpty() ? Optional.empty() : Optional.of(new Unfinished(id, there));
  }

  private List<MultipartUpload> begun(String prefix) {
    return client
        .listMultipartUploadsPaginator(request -> request.bucket(bucket).prefix(prefix))
        .uploads()
        .stream()
        .toList();
  }

  /** All unfinished uploads below a prefix, oldest first. */
  List<StaleUpload> all(String prefix) {
    List<StaleUpload> result = new ArrayList<>();
    for (MultipartUpload upload : begun(prefix)) {
      result.add(
          new StaleUpload(
              upload.key().substring(prefix.length()), upload.uploadId(), upload.initiated()));
    }
    result.sort(Comparator.comparing(StaleUpload::begun));
    return result;
  }

  /** Begins an upload and drops it. */
  void tryOne(String key) {
    String id = client.createMultipartUpload(request -> request.bucket(bucket).key(key)).uploadId();
    abort(key, failures.require("Beginning an upload", "the number of the upload", id));
  }

  /** Drops an upload and its parts. */
  void abort(String key, String id) {
    client.abortMultipartUpload(request -> request.bucket(bucket).key(key).uploadId(id));
  }
}
