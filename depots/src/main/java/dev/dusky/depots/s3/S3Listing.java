package dev.dusky.depots.s3;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.folders.LookAhead;
import java.util.Iterator;
import java.util.List;
import java.util.function.Function;
import software.amazon.awssdk.services.s3.model.ListObjectsV2Response;
import software.amazon.awssdk.services.s3.model.S3Object;

/**
 * Goes through a listing page by page; only the current page is held. A page must be whole: it has
 * the bucket's name, as many keys as it says, and says whether more follow.
 */
final class S3Listing extends LookAhead<StagedFile> {

  /** Fetches the page behind a continuation token, the first one for null. */
  private final Function<String, ListObjectsV2Response> fetch;

  private final S3Failures failures;
  private final String prefix;
  private Iterator<S3Object> page;
  private String token;
  private String last = "";

  /** Starts a listing with its first page. */
  S3Listing(Function<String, ListObjectsV2Response> fetch, S3Failures failures, String prefix) {
    this.fetch = fetch;
    this.failures = failures;
    this.prefix = prefix;
    turn(fetch.apply(null));
  }

  private void turn(ListObjectsV2Response response) {
    List<S3Object> objects = response.contents();
    if (response.name() == null && response.isTruncated() == null && objects.isEmpty()) {
      throw failures.foreign("Listing", "a list of objects");
    }
    String flaw = flaw(response);
    if (flaw != null) {
      throw broken(flaw);
    }
    page = objects.iterator();
    String next = response.isTruncated() ? response.nextContinuationToken() : null;
    if (next != null && next.equals(token)) {
      throw broken("the page after this one is this one again");
    }
    token = next;
  }

  /** The reason why an answer is not a whole page, or null. */
  private static String flaw(ListObjectsV2Response response) {
    int keys = response.contents().size() + response.commonPrefixes().size();
    if (response.name() == null) {
      return "the answer lacks the name of the bucket";
    }
    if (response.isTruncated() == null) {
      return "the answer does not say whether more keys follow";
    }
    if (response.keyCount() == null) {
      return "the answer does not say how many keys it has";
    }
    if (response.keyCount() != keys) {
      return "the answer says it has %,d keys, and has %,d".formatted(response.keyCount(), keys);
    }
    if (response.isTruncated()
        && (response.nextContinuationToken() == null
            || response.nextContinuationToken().isEmpty())) {
      return "the answer says that more keys follow, and not where";
    }
    return null;
  }

  private Failure broken(String flaw) {
    return failures.broken("Listing", flaw + (last.isEmpty() ? "" : "; the last key was " + last));
  }

  @Override
  protected StagedFile find() {
    while (true) {
      while (!page.hasNext() && token != null) {
        turn(fetch.apply(token));
      }
      if (!page.hasNext()) {
        return null;
      }
      S3Object object = page.next();
      String key = object.key();
      if (key == null
          || key.isEmpty()
          || !key.startsWith(prefix)
          || object.size() == null
          || object.eTag() == null
          || object.lastModified() == null) {
        throw broken(
            key == null || key.isEmpty()
                ? "the answer has an object without a key"
                : "the answer has no size, etag or date for " + key);
      }
      last = key;
      String path = key.substring(prefix.length());
      if (!path.isEmpty() && !path.endsWith("/")) { // not the marker of an empty folder
        return new StagedFile(
            path, object.size(), S3Depot.bare(object.eTag()), object.lastModified());
      }
    }
  }
}
