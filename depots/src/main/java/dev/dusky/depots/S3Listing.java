package dev.dusky.depots;

import dev.dusky.core.depot.StagedFile;
import java.util.Iterator;
import java.util.List;
import java.util.NoSuchElementException;
import java.util.function.Function;
import software.amazon.awssdk.services.s3.model.ListObjectsV2Response;
import software.amazon.awssdk.services.s3.model.S3Object;

/** Goes through a listing page by page; only the current page is held. */
final class S3Listing implements Iterator<StagedFile> {

  private final Function<String, ListObjectsV2Response> fetch;
  private final String prefix;
  private Iterator<S3Object> page;
  private String token;
  private StagedFile next;

  /**
   * Starts a listing with its first page.
   *
   * @param fetch fetches the page behind a continuation token, the first one for null
   */
  S3Listing(Function<String, ListObjectsV2Response> fetch, String prefix) {
    this.fetch = fetch;
    this.prefix = prefix;
    turn(fetch.apply(null));
    advance();
  }

  private void turn(ListObjectsV2Response response) {
    List<S3Object> objects = response.contents();
    page = objects.iterator();
    token = Boolean.TRUE.equals(response.isTruncated()) ? response.nextContinuationToken() : null;
  }

  private void advance() {
    next = null;
    while (next == null) {
      while (!page.hasNext() && token != null) {
        turn(fetch.apply(token));
      }
      if (!page.hasNext()) {
        return;
      }
      S3Object object = page.next();
      String path = object.key().substring(prefix.length());
      if (!path.isEmpty() && !path.endsWith("/")) { // not the marker of an empty folder
        next =
            new StagedFile(path, object.size(), S3Depot.bare(object.eTag()), object.lastModified());
      }
    }
  }

  @Override
  public boolean hasNext() {
    return next != null;
  }

  @Override
  public StagedFile next() {
    if (next == null) {
      throw new NoSuchElementException();
    }
    StagedFile result = next;
    advance();
    return result;
  }
}
