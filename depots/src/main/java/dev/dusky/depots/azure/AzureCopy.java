package dev.dusky.depots.azure;

import com.azure.core.util.polling.SyncPoller;
import com.azure.storage.blob.BlobClient;
import com.azure.storage.blob.models.BlobBeginCopySourceRequestConditions;
import com.azure.storage.blob.models.BlobCopyInfo;
import com.azure.storage.blob.models.BlobProperties;
import com.azure.storage.blob.models.BlobRequestConditions;
import com.azure.storage.blob.models.CopyStatusType;
import com.azure.storage.blob.options.BlobBeginCopyOptions;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.Credentials;
import java.time.Duration;
import java.util.HashMap;
import java.util.Map;

/** Copies a blob within its account, if it still is the one that was listed. */
final class AzureCopy {

  /** The metadata of a copy: the size and etag of its original. */
  private static final String ORIGINAL = "duskyoriginal";

  private static final Duration POLL = Duration.ofSeconds(1);

  private final Credentials credentials;
  private final String doing;

  AzureCopy(Credentials credentials, String doing) {
    this.credentials = credentials;
    this.doing = doing;
  }

  /** Whether the blob that was found is a whole copy of that file. */
  static boolean isOf(BlobProperties found, StagedFile file) {
    boolean whole =
        found.getCopyStatus() == null || found.getCopyStatus() == CopyStatusType.SUCCESS;
    return whole && file.version().equals(found.getMetadata().get(ORIGINAL));
  }

  /** Copies to a name that nothing has. */
  void run(StagedFile file, BlobClient from, BlobClient to) {
    Map<String, String> metadata = new HashMap<>(from.getProperties().getMetadata());
    metadata.put(ORIGINAL, file.version());
    SyncPoller<BlobCopyInfo, Void> copy =
        to.beginCopy(
            new BlobBeginCopyOptions(source(from))
                .setMetadata(metadata)
                .setPollInterval(POLL)
                .setSourceRequestConditions(
                    new BlobBeginCopySourceRequestConditions().setIfMatch('"' + file.mark() + '"'))
                .setDestinationRequestConditions(new BlobRequestConditions().setIfNoneMatch("*")));
    BlobCopyInfo done = copy.waitForCompletion().getValue();
    if (done.getCopyStatus() != CopyStatusType.SUCCESS) {
      throw Failure.depot(doing + " failed")
          .because("the store ended the copy: " + done.getCopyStatus() + ", " + done.getError())
          .hint("The original was left where it is. Run again");
    }
  }

  /** The store reads the original with the same signature that this request carries. */
  private String source(BlobClient from) {
    String url = from.getBlobUrl();
    return credentials instanceof Credentials.SharedAccess shared && !url.contains("?")
        ? url + "?" + shared.token().reveal().replaceFirst("^\\?", "")
        : url;
  }
}
