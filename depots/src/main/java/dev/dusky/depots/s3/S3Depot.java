package dev.dusky.depots.s3;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.StaleUpload;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.probe.Cause;
import dev.dusky.depots.probe.StoreRequest;
import dev.dusky.depots.transfer.FileParts;
import dev.dusky.depots.transfer.LocalStream;
import dev.dusky.depots.transfer.ResumingStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Supplier;
import software.amazon.awssdk.core.ResponseInputStream;
import software.amazon.awssdk.core.exception.RetryableException;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.model.EncodingType;
import software.amazon.awssdk.services.s3.model.GetObjectResponse;
import software.amazon.awssdk.services.s3.model.HeadObjectResponse;
import software.amazon.awssdk.services.s3.model.NoSuchKeyException;
import software.amazon.awssdk.services.s3.model.S3Exception;

/** A bucket, or a prefix of one, in object storage that speaks the S3 protocol. */
public final class S3Depot implements Depot {

  private final DepotAddress address;
  private final String bucket;
  private final String prefix;
  private final S3Connection connection;
  private final S3Failures failures;

  /** A depot at an address that begins with {@code s3://} or {@code gs://}. */
  public S3Depot(DepotAddress address) {
    this.address = address;
    String rest = address.at().substring(address.at().indexOf("://") + 3);
    int slash = rest.indexOf('/');
    this.bucket = slash < 0 ? rest : rest.substring(0, slash);
    String path = slash < 0 ? "" : rest.substring(slash + 1).replaceAll("/+$", "");
    this.prefix = path.isEmpty() ? "" : path + "/";
    this.connection = new S3Connection(address, bucket);
    this.failures = new S3Failures(address, bucket, connection::credentials);
  }

  private S3Client client() {
    return connection.client();
  }

  private long partSize() {
    return address.storing().partSize().orElse(FileParts.PART_SIZE);
  }

  private <T> T call(String doing, StoreRequest.Right right, Supplier<T> work) {
    try {
      return work.get();
    } catch (SdkException e) {
      throw failures.of(doing, right, e);
    }
  }

  /** The causes of refusals that are known, for the documentation. */
  public static List<Cause> causes() {
    return S3Causes.ALL;
  }

  @Override
  public String name() {
    return address.name();
  }

  @Override
  public String place() {
    return address.toString();
  }

  @Override
  public Iterator<StagedFile> list(String pathPrefix, String after) {
    return new S3Listing(
        token ->
            call(
                "Listing",
                StoreRequest.Right.LIST,
                () ->
                    client()
                        .listObjectsV2(
                            request ->
                                request
                                    .bucket(bucket)
                                    .prefix(prefix + pathPrefix)
                                    .startAfter(after.isEmpty() ? null : prefix + after)
                                    .continuationToken(token)
                                    // Keys may have characters that XML cannot carry.
                                    .encodingType(EncodingType.URL))),
        failures,
        prefix);
  }

  @Override
  public Optional<StagedFile> look(String path) {
    return head(path)
        .map(
            found ->
                new StagedFile(
                    path, found.contentLength(), bare(found.eTag()), found.lastModified()));
  }

  private Optional<HeadObjectResponse> head(String path) {
    String doing = "Looking at " + path;
    Optional<HeadObjectResponse> found = tryHead(doing, path);
    found.ifPresent(
        head -> {
          failures.require(doing, "an etag", head.eTag());
          failures.require(doing, "a size", head.contentLength());
          failures.require(doing, "a date", head.lastModified());
        });
    return found;
  }

  private Optional<HeadObjectResponse> tryHead(String doing, String path) {
    return call(
        doing,
        StoreRequest.Right.READ,
        () -> {
          try {
            return Optional.of(
                client().headObject(request -> request.bucket(bucket).key(prefix + path)));
          } catch (NoSuchKeyException e) {
            return Optional.empty();
          } catch (S3Exception e) {
            if (e.statusCode() == 404) {
              return Optional.empty();
            }
            throw withReason(path, e);
          }
        });
  }

  /** The answer to a look has no body, and so no reason: reading one byte is refused with it. */
  private S3Exception withReason(String path, S3Exception bare) {
    if (bare.statusCode() / 100 != 4) {
      return bare;
    }
    try {
      client()
          .getObjectAsBytes(
              request -> request.bucket(bucket).key(prefix + path).range("bytes=0-0"));
      return bare;
    } catch (S3Exception reason) {
      return reason;
    }
  }

  static String bare(String etag) {
    return etag.replace("\"", "");
  }

  @Override
  public InputStream open(StagedFile file) throws IOException {
    return new ResumingStream(file.path(), file.size(), from -> openAt(file, from));
  }

  private ResumingStream.Source openAt(StagedFile file, long from) {
    return call(
        "Reading " + file.path(),
        StoreRequest.Right.READ,
        () -> {
          ResponseInputStream<GetObjectResponse> in =
              client()
                  .getObject(
                      request -> {
                        request
                            .bucket(bucket)
                            .key(prefix + file.path())
                            .ifMatch('"' + file.mark() + '"');
                        if (from > 0) {
                          request.range("bytes=" + from + "-");
                        }
                      });
          try {
            verify(file, from, in.response());
          } catch (Failure failure) {
            in.abort();
            throw failure;
          }
          return new ResumingStream.Source(in, in::abort);
        });
  }

  /** The answer must be of the very object and begin at the very byte that was asked for. */
  private void verify(StagedFile file, long from, GetObjectResponse answer) {
    String doing = "Reading " + file.path();
    String etag = bare(failures.require(doing, "an etag", answer.eTag()));
    if (!etag.equals(file.mark())) {
      throw Failure.depot(doing + " in depot " + name() + " stopped")
          .because("the object changed since it was listed: its etag is " + etag)
          .hint("It was rolled back. Run again");
    }
    String range = answer.contentRange();
    if (from > 0 && (range == null || !range.startsWith("bytes " + from + "-"))) {
      throw failures.broken(
          doing,
          "bytes from %,d on were asked for, and the answer is %s"
              .formatted(from, range == null ? "the whole object" : range));
    }
  }

  @Override
  public byte[] bytes(StagedFile file, long position, int length) {
    return call(
        "Reading " + file.path(),
        StoreRequest.Right.READ,
        () ->
            client()
                .getObject(
                    request ->
                        request
                            .bucket(bucket)
                            .key(prefix + file.path())
                            .ifMatch('"' + file.mark() + '"')
                            .range("bytes=%d-%d".formatted(position, position + length - 1)),
                    (response, in) -> {
                      verify(file, position, response);
                      return taken(in, (int) Math.min(length, response.contentLength()));
                    }));
  }

  /** Takes an answer of that length; a connection that breaks on the way is tried again. */
  private static byte[] taken(InputStream in, int length) {
    byte[] bytes = new byte[length];
    try {
      int read = in.readNBytes(bytes, 0, length);
      if (read < length) {
        throw new EOFException("%d of %d bytes came".formatted(read, length));
      }
      return bytes;
    } catch (IOException e) {
      throw RetryableException.create("The connection broke: " + e.getMessage(), e);
    }
  }

  @Override
  public StagedFile put(String path, Path local, Uplink uplink) {
    return call(
        "Staging " + local + " as " + path,
        StoreRequest.Right.WRITE,
        () -> {
          try {
            FileParts file = FileParts.of(local, uplink, partSize());
            String etag =
                new S3Upload(client(), failures, bucket, prefix + path, local, uplink).run(file);
            return new StagedFile(path, file.size(), bare(etag), Instant.now());
          } catch (IOException e) {
            throw LocalStream.unreadable(local, e);
          }
        });
  }

  @Override
  public List<StaleUpload> unfinished() {
    return call(
        "Listing unfinished uploads",
        StoreRequest.Right.LIST,
        () -> {
          try {
            return uploads().all(prefix);
          } catch (S3Exception e) {
            if (e.statusCode() == 501) { // this store has no such list
              return List.of();
            }
            throw e;
          }
        });
  }

  @Override
  public void drop(StaleUpload upload) {
    call(
        "Dropping the unfinished upload of " + upload.path(),
        StoreRequest.Right.WRITE,
        () -> {
          uploads().abort(prefix + upload.path(), upload.id());
          return null;
        });
  }

  @Override
  public boolean same(StagedFile staged, Path local) {
    try (Uplink alone = Uplink.single()) {
      if (Files.size(local) != staged.size()) {
        return false;
      }
      FileParts own = FileParts.of(local, alone, partSize());
      if (own.etag().equals(staged.mark())) {
        return true;
      }
      Optional<HeadObjectResponse> kept = head(staged.path());
      return kept.isPresent() && describes(kept.get().metadata(), own, local, alone);
    } catch (IOException e) {
      throw LocalStream.unreadable(local, e);
    }
  }

  /** Whether the digest that was kept with an object, in parts of whatever size, is the file's. */
  private static boolean describes(
      Map<String, String> metadata, FileParts own, Path local, Uplink uplink) throws IOException {
    String digest = metadata.get(S3Upload.CONTENT);
    String size = metadata.get(S3Upload.PART_SIZE);
    if (digest == null || size == null || !size.matches("[1-9]\\d{0,11}")) {
      return own.etag().equals(digest);
    }
    long parts = Long.parseLong(size);
    return digest.equals(
        (parts == own.partSize() ? own : FileParts.of(local, uplink, parts)).etag());
  }

  @Override
  public void remove(String path) {
    call(
        "Removing " + path,
        StoreRequest.Right.WRITE,
        () -> client().deleteObject(request -> request.bucket(bucket).key(prefix + path)));
  }

  /** Besides the look at the target, stores that know conditions exclude a race for it. */
  @Override
  public boolean move(StagedFile file, String path) {
    Optional<HeadObjectResponse> there = head(path);
    if (there.isPresent()) {
      // The copy of a process that was killed before it removed the original is taken for it.
      if (!S3Copy.isOf(there.get(), file)) {
        return false;
      }
    } else if (!copy(file, path)) {
      return false;
    }
    remove(file);
    return true;
  }

  /** Copies an object to a free path; false if it is not free. */
  private boolean copy(StagedFile file, String path) {
    String doing = "Moving " + file.path() + " to " + path;
    return call(
        doing,
        StoreRequest.Right.WRITE,
        () -> {
          S3Copy copy = new S3Copy(client(), failures, bucket, doing);
          try {
            copy.run(file, prefix + file.path(), prefix + path, true);
          } catch (S3Exception e) {
            if (e.statusCode() == 501) { // conditions are not known here
              copy.run(file, prefix + file.path(), prefix + path, false);
            } else if (e.statusCode() == 412 && look(path).isPresent()) {
              return false;
            } else if (e.statusCode() == 412 || e.statusCode() == 404) {
              throw Failure.depot(file.path() + " changed in depot " + name() + " meanwhile")
                  .because(S3Answers.of(e).words())
                  .hint("It was left where it is");
            } else {
              throw e;
            }
          }
          return true;
        });
  }

  /** Stores that know conditions leave a file alone that came meanwhile, others nearly always. */
  @Override
  public void remove(StagedFile file) {
    if (!look(file.path()).map(StagedFile::version).equals(Optional.of(file.version()))) {
      return;
    }
    call(
        "Removing " + file.path(),
        StoreRequest.Right.WRITE,
        () -> {
          try {
            client()
                .deleteObject(
                    request ->
                        request
                            .bucket(bucket)
                            .key(prefix + file.path())
                            .ifMatch('"' + file.mark() + '"'));
          } catch (S3Exception e) {
            if (e.statusCode() == 501) { // conditions are not known here
              remove(file.path());
            } else if (e.statusCode() != 412 && e.statusCode() != 404) {
              throw e;
            }
          }
          return null;
        });
  }

  @Override
  public List<ProbeStep> probe() {
    return List.of(
        new ProbeStep("resolve", this::probeEndpoint),
        new ProbeStep(
            "credentials",
            () -> call("Fetching credentials", StoreRequest.Right.LIST, this::probeIdentity)));
  }

  @Override
  public List<ProbeStep> probeStoring() {
    return List.of(new ProbeStep("uploads", this::probeUploads));
  }

  private ProbeStep.Finding probeIdentity() {
    return ProbeStep.Finding.passed(connection.identity());
  }

  /** Begins an upload in parts and drops it; then looks for those that others left. */
  private ProbeStep.Finding probeUploads() {
    try {
      call(
          "Beginning an upload in parts",
          StoreRequest.Right.WRITE,
          () -> {
            uploads().tryOne(prefix + "dusky-probe-" + UUID.randomUUID());
            return null;
          });
    } catch (Failure failure) {
      return ProbeStep.Finding.untried(
          "files of more than one part cannot be staged: " + failure.what());
    }
    try {
      List<StaleUpload> all = unfinished();
      return ProbeStep.Finding.passed(
          all.isEmpty()
              ? "an upload in parts begun and dropped; none is unfinished"
              : "%,d unfinished, the oldest of %s begun %s; dusky stage %s --tidy drops old ones"
                  .formatted(all.size(), all.get(0).path(), all.get(0).begun(), name()));
    } catch (Failure failure) {
      return ProbeStep.Finding.untried(
          "unfinished uploads cannot be listed, so none is continued after a kill: "
              + failure.what());
    }
  }

  private S3Uploads uploads() {
    return new S3Uploads(client(), failures, bucket);
  }

  private ProbeStep.Finding probeEndpoint() {
    try {
      return connection
          .connect()
          .map(target -> ProbeStep.Finding.passed("connected to " + target))
          .orElseGet(() -> ProbeStep.Finding.untried("region " + connection.region()));
    } catch (IOException e) {
      throw failures.unreachable(e);
    }
  }

  @Override
  public void close() {
    connection.close();
  }
}
