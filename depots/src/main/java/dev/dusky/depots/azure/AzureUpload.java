package dev.dusky.depots.azure;

import com.azure.core.util.Context;
import com.azure.storage.blob.models.AccessTier;
import com.azure.storage.blob.models.BlobHttpHeaders;
import com.azure.storage.blob.models.BlobStorageException;
import com.azure.storage.blob.models.Block;
import com.azure.storage.blob.models.BlockListType;
import com.azure.storage.blob.options.BlockBlobCommitBlockListOptions;
import com.azure.storage.blob.options.BlockBlobSimpleUploadOptions;
import com.azure.storage.blob.specialized.BlockBlobClient;
import dev.dusky.core.depot.Uplink;
import dev.dusky.depots.address.Storing;
import dev.dusky.depots.transfer.ContentType;
import dev.dusky.depots.transfer.FileParts;
import dev.dusky.depots.transfer.FileRegion;
import dev.dusky.depots.transfer.RewindableStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;

/**
 * Stores one local file, in blocks if it is large, several of them concurrently. Each request
 * carries the MD5 of its bytes, which the server checks. A block is named after its number and its
 * MD5, so blocks that a killed process sent are found again and not sent a second time; the store
 * drops those that are never used after a week.
 */
final class AzureUpload {

  /** The metadata that carries the file's digest in the form of {@link FileParts#etag}. */
  static final String CONTENT = "duskycontent";

  /** The metadata that carries the size of the parts that the digest is of. */
  static final String PART_SIZE = "duskypartsize";

  private final BlockBlobClient blob;
  private final Storing storing;
  private final Path local;
  private final Uplink uplink;

  AzureUpload(BlockBlobClient blob, Storing storing, Path local, Uplink uplink) {
    this.blob = blob;
    this.storing = storing;
    this.local = local;
    this.uplink = uplink;
  }

  /** Stores the file and gives its etag. */
  String run(FileParts file) throws IOException {
    return file.several() ? inBlocks(file) : whole(file, file.parts().get(0));
  }

  private String whole(FileParts file, FileParts.Part all) throws IOException {
    String etag =
        uplink.request(
            () -> {
              try (InputStream in = stream(all)) {
                return blob.uploadWithResponse(
                        new BlockBlobSimpleUploadOptions(in, all.length())
                            .setContentMd5(all.md5())
                            .setHeaders(headers().setContentMd5(all.md5()))
                            .setMetadata(metadata(file))
                            .setTags(tags())
                            .setTier(tier()),
                        null,
                        Context.NONE)
                    .getValue()
                    .getETag();
              }
            });
    uplink.sent(all.length());
    return etag;
  }

  private InputStream stream(FileParts.Part part) throws IOException {
    return new RewindableStream(
        from -> uplink.paced(new FileRegion(local, part.start() + from, part.length() - from)));
  }

  private String inBlocks(FileParts file) throws IOException {
    Set<String> there = uplink.request(this::sentBefore);
    List<String> ids = new ArrayList<>();
    List<Callable<Integer>> work = new ArrayList<>();
    for (FileParts.Part part : file.parts()) {
      String id = id(part);
      ids.add(id);
      work.add(() -> block(id, part, there.contains(id)));
    }
    uplink.all(work);
    return uplink.request(
        () ->
            blob.commitBlockListWithResponse(
                    new BlockBlobCommitBlockListOptions(ids)
                        .setHeaders(headers())
                        .setMetadata(metadata(file))
                        .setTags(tags())
                        .setTier(tier()),
                    null,
                    Context.NONE)
                .getValue()
                .getETag());
  }

  private int block(String id, FileParts.Part part, boolean there) throws IOException {
    if (!there) {
      uplink.request(
          () -> {
            try (InputStream in = stream(part)) {
              return blob.stageBlockWithResponse(
                  id, in, part.length(), part.md5(), null, null, Context.NONE);
            }
          });
    }
    uplink.sent(part.length());
    return part.number();
  }

  /** The blocks of this blob that were sent and not used yet. */
  private Set<String> sentBefore() {
    Set<String> ids = new HashSet<>();
    try {
      for (Block block : blob.listBlocks(BlockListType.UNCOMMITTED).getUncommittedBlocks()) {
        ids.add(block.getName());
      }
    } catch (BlobStorageException e) {
      if (e.getStatusCode() != 404 && e.getStatusCode() != 403) {
        throw e; // without the blob, or without the right to read, nothing is continued
      }
    }
    return ids;
  }

  /** The names of a blob's blocks have the same length. */
  private static String id(FileParts.Part part) {
    String name = "%05d-%s".formatted(part.number(), part.etag());
    return Base64.getEncoder().encodeToString(name.getBytes(StandardCharsets.US_ASCII));
  }

  private BlobHttpHeaders headers() {
    return new BlobHttpHeaders().setContentType(ContentType.of(blob.getBlobName()));
  }

  private static Map<String, String> metadata(FileParts file) {
    return Map.of(CONTENT, file.etag(), PART_SIZE, Long.toString(file.partSize()));
  }

  private Map<String, String> tags() {
    return storing.tags().isEmpty() ? null : storing.tags();
  }

  private AccessTier tier() {
    return storing.storageClass().map(AccessTier::fromString).orElse(null);
  }
}
