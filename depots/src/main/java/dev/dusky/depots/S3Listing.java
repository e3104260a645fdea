package dev.dusky.depots;

import dev.dusky.core.depot.StagedFile;
import java.util.Iterator;
import java.util.List;
import java.util.function.Function;
import software.amazon.awssdk.services.s3.model.ListObjectsV2Response;
import software.amazon.awssdk.services.s3.model.S3Object;

/** Goes through a listing page by page; only the current page is held. */
final class S3Listing extends LookAhead<StagedFile> {

  private final Function<String, ListObjectsV2Response> fetch;
  private final String prefix;
  private Iterator<S3Object> page;
  private String token;

  /**
   * Starts a listing with its first page.
   *
   * @param fetch fetches the page behind a continuation token, the first one for null
   */
  S3Listing(Function<String, ListObjectsV2Response> fetch, String prefix) {
    this.fetch = fetch;
    this.prefix = prefix;
    turn(fetch.apply(null));
  }

  private void turn(ListObjectsV2Response response) {
    List<S3Object> objects = response.contents();
    page = objects.iterator();
    token = Boolean.TRUE.equals(response.isTruncated()) ? response.nextContinuationToken() : null;
  }

  @Override
  StagedFile find() {
    while (true) {
      while (!page.hasNext() && token != null) {
        turn(fetch.apply(token));
      }
      if (!page.hasNext()) {
        return null;
      }
      S3Object object = page.next();
      String path = object.key().substring(prefix.length());
      if (!path.isEmpty() && !path.endsWith("/")) { // not the marker of an empty folder
        return new StagedFile(
            path, object.size(), S3Depot.bare(object.eTag()), object.lastModified());
      }
    }
  }
}
