package dev.dusky.depots.azure;

import com.azure.core.util.Context;
import com.azure.storage.blob.BlobClient;
import com.azure.storage.blob.BlobContainerClient;
import com.azure.storage.blob.models.BlobListDetails;
import com.azure.storage.blob.models.BlobProperties;
import com.azure.storage.blob.models.BlobRange;
import com.azure.storage.blob.models.BlobRequestConditions;
import com.azure.storage.blob.models.BlobStorageException;
import com.azure.storage.blob.models.DownloadRetryOptions;
import com.azure.storage.blob.models.ListBlobsOptions;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.probe.Cause;
import dev.dusky.depots.probe.StoreRequest.Right;
import dev.dusky.depots.transfer.FileDigests;
import dev.dusky.depots.transfer.FileParts;
import dev.dusky.depots.transfer.LocalStream;
import dev.dusky.depots.transfer.ResumingStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Arrays;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;

/** A container, or a prefix of one, in Azure's blob storage. */
public final class AzureDepot implements Depot {

  private static final int TRIES = 5;

  private final DepotAddress address;
  private final AzurePlace place;
  private final AzureConnection connection;
  private final AzureFailures failures;

  /** A depot at an address that begins with {@code azure://}. */
  public AzureDepot(DepotAddress address) {
    this.address = address;
    this.place = AzurePlace.of(address);
    this.connection = new AzureConnection(address, place);
    this.failures = new AzureFailures(address, place.container());
  }

  /** The causes of refusals that are known, for the documentation. */
  public static List<Cause> causes() {
    return AzureCauses.ALL;
  }

  @Override
  public String name() {
    return address.name();
  }

  @Override
  public String place() {
    return address.toString();
  }

  private BlobContainerClient container() {
    return connection.client();
  }

  private BlobClient blob(String path) {
    return container().getBlobClient(place.prefix() + path);
  }

  /** An etag without quotes. */
  static String bare(String etag) {
    return etag.replace("\"", "");
  }

  private static BlobRequestConditions still(StagedFile file) {
    return new BlobRequestConditions().setIfMatch('"' + file.mark() + '"');
  }

  @Override
  public Iterator<StagedFile> list(String pathPrefix, String after) {
    return failures.call(
        "Listing",
        Right.LIST,
        () -> {
          ListBlobsOptions options =
              new ListBlobsOptions()
                  .setPrefix(place.prefix() + pathPrefix)
                  .setStartFrom(after.isEmpty() ? null : place.prefix() + after)
                  .setDetails(new BlobListDetails().setRetrieveMetadata(true));
          AzureListing listing =
              new AzureListing(
                  container().listBlobs(options, null).iterator(),
                  next -> failures.call("Listing", Right.LIST, next),
                  flaw ->
                      Failure.depot("Listing in depot " + name() + " failed")
                          .because(flaw)
                          .hint("The answer was not used. Run again"),
                  place.prefix(),
                  after);
          listing.hasNext();
          return listing;
        });
  }

  @Override
  public Optional<StagedFile> look(String path) {
    return properties(path).map(found -> staged(path, found));
  }

  private static StagedFile staged(String path, BlobProperties found) {
    return new StagedFile(
        path, found.getBlobSize(), bare(found.getETag()), found.getLastModified().toInstant());
  }

  private Optional<BlobProperties> properties(String path) {
    return failures.call(
        "Looking at " + path,
        Right.READ,
        () -> {
          try {
            return Optional.of(blob(path).getProperties());
          } catch (BlobStorageException e) {
            if (e.getStatusCode() == 404 && !"ContainerNotFound".equals(code(e))) {
              return Optional.empty();
            }
            throw e;
          }
        });
  }

  private static String code(BlobStorageException e) {
    return String.valueOf(e.getErrorCode());
  }

  @Override
  public InputStream open(StagedFile file) throws IOException {
    return new ResumingStream(file.path(), file.size(), from -> openAt(file, from));
  }

  private ResumingStream.Source openAt(StagedFile file, long from) {
    AzureStream in =
        new AzureStream(
            (position, length) -> range(file, position, length, 0),
            e -> changed(file, e),
            from,
            file.size());
    return new ResumingStream.Source(in, () -> {});
  }

  private byte[] range(StagedFile file, long position, int length, int retries) {
    ByteArrayOutputStream out = new ByteArrayOutputStream(length);
    blob(file.path())
        .downloadStreamWithResponse(
            out,
            new BlobRange(position, (long) length),
            new DownloadRetryOptions().setMaxRetryRequests(retries),
            still(file),
            false,
            null,
            Context.NONE);
    return out.toByteArray();
  }

  /** Reads; that the file is another one by now is said in the words of every depot. */
  private <T> T reading(StagedFile file, Supplier<T> work) {
    try {
      return work.get();
    } catch (RuntimeException e) {
      throw changed(file, e);
    }
  }

  private Failure changed(StagedFile file, RuntimeException e) {
    if (e instanceof Failure known) {
      return known;
    }
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      if (cause instanceof BlobStorageException answer && answer.getStatusCode() == 412) {
        return Failure.depot("Reading " + file.path() + " in depot " + name() + " stopped")
            .because("the file changed since it was listed")
            .hint("It was rolled back. Run again")
            .from(e);
      }
    }
    return failures.of("Reading " + file.path(), Right.READ, e);
  }

  @Override
  public byte[] bytes(StagedFile file, long position, int length) {
    return reading(file, () -> range(file, position, length, TRIES));
  }

  private long partSize() {
    return address.storing().partSize().orElse(FileParts.PART_SIZE);
  }

  @Override
  public StagedFile put(String path, Path local, Uplink uplink) {
    return failures.call(
        "Staging " + local + " as " + path,
        Right.WRITE,
        () -> {
          try {
            FileParts file = FileParts.of(local, uplink, partSize());
            String etag =
                new AzureUpload(blob(path).getBlockBlobClient(), address.storing(), local, uplink)
                    .run(file);
            return new StagedFile(path, file.size(), bare(etag), Instant.now());
          } catch (IOException e) {
            throw LocalStream.unreadable(local, e);
          }
        });
  }

  @Override
  public boolean same(StagedFile staged, Path local) {
    try (Uplink alone = Uplink.single()) {
      if (Files.size(local) != staged.size()) {
        return false;
      }
      Optional<BlobProperties> found = properties(staged.path());
      if (found.isEmpty()) {
        return false;
      }
      String digest = found.get().getMetadata().get(AzureUpload.CONTENT);
      String size = found.get().getMetadata().get(AzureUpload.PART_SIZE);
      if (digest != null && size != null && size.matches("[1-9]\\d{0,11}")) {
        return digest.equals(FileParts.of(local, alone, Long.parseLong(size)).etag());
      }
      byte[] md5 = found.get().getContentMd5();
      return md5 != null && Arrays.equals(md5, FileDigests.of("MD5", local, 0, staged.size()));
    } catch (IOException e) {
      throw LocalStream.unreadable(local, e);
    }
  }

  @Override
  public void remove(String path) {
    failures.call("Removing " + path, Right.WRITE, () -> blob(path).deleteIfExists());
  }

  @Override
  public void remove(StagedFile file) {
    failures.call(
        "Removing " + file.path(),
        Right.WRITE,
        () -> {
          try {
            blob(file.path()).deleteWithResponse(null, still(file), null, Context.NONE);
          } catch (BlobStorageException e) {
            if (e.getStatusCode() != 412 && e.getStatusCode() != 404) {
              throw e;
            }
          }
          return true;
        });
  }

  @Override
  public boolean move(StagedFile file, String path) {
    Optional<BlobProperties> there = properties(path);
    if (there.isPresent()) {
      // The copy of a process that was killed before it removed the original is taken for it.
      if (!AzureCopy.isOf(there.get(), file)) {
        return false;
      }
    } else if (!copy(file, path)) {
      return false;
    }
    remove(file);
    return true;
  }

  private boolean copy(StagedFile file, String path) {
    String doing = "Moving " + file.path() + " to " + path;
    return failures.call(
        doing,
        Right.WRITE,
        () -> {
          try {
            new AzureCopy(address.credentials(), doing).run(file, blob(file.path()), blob(path));
            return true;
          } catch (BlobStorageException e) {
            boolean raced = e.getStatusCode() == 409 || e.getStatusCode() == 412;
            if (raced && look(path).isPresent()) {
              return false;
            }
            if (raced || e.getStatusCode() == 404) {
              throw Failure.depot(file.path() + " changed in depot " + name() + " meanwhile")
                  .because("the store answered " + e.getStatusCode() + " " + code(e))
                  .hint("It was left where it is")
                  .from(e);
            }
            throw e;
          }
        });
  }

  @Override
  public List<ProbeStep> probe() {
    return List.of(new ProbeStep("resolve", this::probeService));
  }

  private ProbeStep.Finding probeService() {
    return failures.call(
        "Connecting",
        Right.LIST,
        () -> {
          try {
            return ProbeStep.Finding.passed("connected to " + connection.connect());
          } catch (IOException e) {
            throw failures.unreachable(e);
          }
        });
  }

  @Override
  public void close() {
    // The client holds no connection that must be closed.
  }
}
