package dev.dusky.depots;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.StaleUpload;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import software.amazon.awssdk.auth.credentials.AnonymousCredentialsProvider;
import software.amazon.awssdk.auth.credentials.AwsBasicCredentials;
import software.amazon.awssdk.auth.credentials.AwsCredentialsProvider;
import software.amazon.awssdk.auth.credentials.StaticCredentialsProvider;
import software.amazon.awssdk.core.ResponseInputStream;
import software.amazon.awssdk.core.checksums.RequestChecksumCalculation;
import software.amazon.awssdk.core.checksums.ResponseChecksumValidation;
import software.amazon.awssdk.core.exception.RetryableException;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.core.retry.RetryMode;
import software.amazon.awssdk.http.urlconnection.ProxyConfiguration;
import software.amazon.awssdk.http.urlconnection.UrlConnectionHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.S3Configuration;
import software.amazon.awssdk.services.s3.model.EncodingType;
import software.amazon.awssdk.services.s3.model.GetObjectResponse;
import software.amazon.awssdk.services.s3.model.HeadObjectResponse;
import software.amazon.awssdk.services.s3.model.NoSuchKeyException;
import software.amazon.awssdk.services.s3.model.S3Exception;

/** A bucket, or a prefix of one, in object storage that speaks the S3 protocol. */
final class S3Depot implements Depot {

  private final DepotAddress address;
  private final String bucket;
  private final String prefix;
  private final Optional<S3Endpoint> endpoint;
  private final ProxyConfiguration proxy;
  private final S3Failures failures;
  private S3Client client;

  S3Depot(DepotAddress address) {
    this.address = address;
    String rest = address.at().substring("s3://".length());
    int slash = rest.indexOf('/');
    this.bucket = slash < 0 ? rest : rest.substring(0, slash);
    String path = slash < 0 ? "" : rest.substring(slash + 1).replaceAll("/+$", "");
    this.prefix = path.isEmpty() ? "" : path + "/";
    this.endpoint = S3Endpoint.of(address, bucket);
    this.proxy = S3Endpoint.proxy(endpoint.map(e -> e.uri().getScheme()).orElse("https"));
    this.failures = new S3Failures(address, bucket);
  }

  /** The client, made when it is first needed since its classes are many. */
  private synchronized S3Client client() {
    if (client == null) {
      var builder =
          S3Client.builder()
              .httpClient(
                  UrlConnectionHttpClient.builder()
                      .connectionTimeout(Duration.ofSeconds(10))
                      .socketTimeout(Duration.ofSeconds(60))
                      .proxyConfiguration(proxy)
                      .build())
              .region(Region.of(address.region()))
              .credentialsProvider(credentials())
              .forcePathStyle(address.pathStyle())
              // Whole requests are signed with the digest of their bytes, not chunk by chunk.
              .serviceConfiguration(S3Configuration.builder().chunkedEncodingEnabled(false).build())
              .requestChecksumCalculation(RequestChecksumCalculation.WHEN_REQUIRED)
              .responseChecksumValidation(ResponseChecksumValidation.WHEN_REQUIRED)
              .overrideConfiguration(
                  override ->
                      override
                          .retryStrategy(RetryMode.STANDARD)
                          .addExecutionInterceptor(new S3ErrorBody())
                          .addExecutionInterceptor(new S3Meter()));
      endpoint.ifPresent(e -> builder.endpointOverride(e.uri()));
      client = builder.build();
    }
    return client;
  }

  private AwsCredentialsProvider credentials() {
    if (address.accessKey().isEmpty() || address.secretKey().isEmpty()) {
      return AnonymousCredentialsProvider.create();
    }
    return StaticCredentialsProvider.create(
        AwsBasicCredentials.create(
            address.accessKey().map(Secret::reveal).orElseThrow(),
            address.secretKey().map(Secret::reveal).orElseThrow()));
  }

  private <T> T call(String doing, S3Request.Right right, Supplier<T> work) {
    try {
      return work.get();
    } catch (SdkException e) {
      throw failures.of(doing, right, e);
    }
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
                S3Request.Right.LIST,
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
        S3Request.Right.READ,
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
        S3Request.Right.READ,
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
        S3Request.Right.READ,
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
        S3Request.Right.WRITE,
        () -> {
          try {
            FileParts file = FileParts.of(local, uplink);
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
        S3Request.Right.LIST,
        () -> {
          try {
            return new S3Uploads(client(), failures, bucket).all(prefix);
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
        S3Request.Right.WRITE,
        () -> {
          new S3Uploads(client(), failures, bucket).abort(prefix + upload.path(), upload.id());
          return null;
        });
  }

  @Override
  public boolean same(StagedFile staged, Path local) {
    try (Uplink alone = Uplink.single()) {
      if (Files.size(local) != staged.size()) {
        return false;
      }
      String own = FileParts.of(local, alone).etag();
      return own.equals(staged.mark())
          || head(staged.path())
              .map(h -> own.equals(h.metadata().get(S3Upload.CONTENT)))
              .orElse(false);
    } catch (IOException e) {
      throw LocalStream.unreadable(local, e);
    }
  }

  @Override
  public void remove(String path) {
    call(
        "Removing " + path,
        S3Request.Right.WRITE,
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
        S3Request.Right.WRITE,
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
                  .because(S3Answer.of(e).words())
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
        S3Request.Right.WRITE,
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
        new ProbeStep("list", () -> ProbeSteps.list(this)),
        new ProbeStep("read", () -> ProbeSteps.read(this)),
        new ProbeStep("write", () -> ProbeSteps.write(this)),
        new ProbeStep("uploads", this::probeUploads));
  }

  /** Without this right large files are staged all the same, but from their beginning. */
  private ProbeStep.Finding probeUploads() {
    try {
      List<StaleUpload> all = unfinished();
      return ProbeStep.Finding.passed(
          all.isEmpty()
              ? "none is unfinished"
              : "%,d unfinished, the oldest of %s begun %s; dusky stage %s --tidy drops old ones"
                  .formatted(all.size(), all.get(0).path(), all.get(0).begun(), name()));
    } catch (Failure failure) {
      return ProbeStep.Finding.untried(
          "unfinished uploads cannot be listed, so none is continued after a kill");
    }
  }

  /** Connects to the endpoint's port, or to the proxy's, without saying anything. */
  private ProbeStep.Finding probeEndpoint() {
    if (endpoint.isEmpty()) {
      return ProbeStep.Finding.untried("region " + address.region());
    }
    S3Endpoint.Target target = endpoint.get().target(proxy);
    try (Socket socket = new Socket()) {
      socket.connect(new InetSocketAddress(target.host(), target.port()), 5_000);
      return ProbeStep.Finding.passed("connected to " + target.words());
    } catch (IOException e) {
      throw failures.unreachable(e);
    }
  }

  @Override
  public synchronized void close() {
    if (client != null) {
      client.close();
    }
  }
}
