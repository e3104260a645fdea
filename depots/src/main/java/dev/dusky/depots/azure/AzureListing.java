package dev.dusky.depots.azure;

import com.azure.storage.blob.models.BlobItem;
import com.azure.storage.blob.models.BlobItemProperties;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.folders.LookAhead;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Iterator;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Supplier;

/**
 * Goes through a listing page by page. Services that cannot begin behind a name give those before
 * it too; they are skipped.
 */
final class AzureListing extends LookAhead<StagedFile> {

  /** The metadata that marks a directory of an account with a hierarchical namespace. */
  private static final String FOLDER = "hdi_isfolder";

  private final Iterator<BlobItem> blobs;
  private final Function<Supplier<BlobItem>, BlobItem> guard;
  private final Function<String, Failure> broken;
  private final String prefix;
  private final byte[] after;

  /**
   * A listing.
   *
   * @param guard fetches the next page, and turns its failure into ours
   * @param broken the failure of an answer that is not whole, by its flaw
   * @param prefix what all names begin with, which is left out of the paths
   * @param after the path behind which it begins
   */
  AzureListing(
      Iterator<BlobItem> blobs,
      Function<Supplier<BlobItem>, BlobItem> guard,
      Function<String, Failure> broken,
      String prefix,
      String after) {
    this.blobs = blobs;
    this.guard = guard;
    this.broken = broken;
    this.prefix = prefix;
    this.after = after.getBytes(StandardCharsets.UTF_8);
  }

  @Override
  protected StagedFile find() {
    while (true) {
      BlobItem blob = guard.apply(() -> blobs.hasNext() ? blobs.next() : null);
      if (blob == null) {
        return null;
      }
      String name = blob.getName();
      BlobItemProperties properties = blob.getProperties();
      if (name == null || !name.startsWith(prefix)) {
        throw broken.apply("the answer has a blob without a name below the prefix");
      }
      String path = name.substring(prefix.length());
      if (path.isEmpty() || path.endsWith("/") || isFolder(blob) || !isBehind(path)) {
        continue;
      }
      if (properties == null
          || properties.getContentLength() == null
          || properties.getETag() == null
          || properties.getLastModified() == null) {
        throw broken.apply("the answer has no size, etag or date for " + name);
      }
      return new StagedFile(
          path,
          properties.getContentLength(),
          AzureDepot.bare(properties.getETag()),
          properties.getLastModified().toInstant());
    }
  }

  private static boolean isFolder(BlobItem blob) {
    Map<String, String> metadata = blob.getMetadata();
    return metadata != null && "true".equals(metadata.get(FOLDER));
  }

  private boolean isBehind(String path) {
    return after.length == 0
        || Arrays.compareUnsigned(path.getBytes(StandardCharsets.UTF_8), after) > 0;
  }
}
