package dev.dusky.depots;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.function.LongConsumer;
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
import software.amazon.awssdk.http.urlconnection.UrlConnectionHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.S3Configuration;
import software.amazon.awssdk.services.s3.model.GetObjectResponse;
import software.amazon.awssdk.services.s3.model.HeadObjectResponse;
import software.amazon.awssdk.services.s3.model.NoSuchKeyException;
import software.amazon.awssdk.services.s3.model.S3Exception;

/** A bucket, or a prefix of one, in object storage that speaks the S3 protocol. */
final class S3Depot implements Depot {

  private static final long MOST_COPIED = 5L << 30;

  private final DepotAddress address;
  private final String bucket;
  private final String prefix;
  private final S3Failures failures;
  private S3Client client;

  S3Depot(DepotAddress address) {
    this.address = address;
    String rest = address.at().substring("s3://".length());
    int slash = rest.indexOf('/');
    this.bucket = slash < 0 ? rest : rest.substring(0, slash);
    String path = slash < 0 ? "" : rest.substring(slash + 1).replaceAll("/+$", "");
    this.prefix = path.isEmpty() ? "" : path + "/";
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
                      .build())
              .region(Region.of(address.region()))
              .credentialsProvider(credentials())
              .forcePathStyle(address.pathStyle())
              // Whole requests are signed with the digest of their bytes, not chunk by chunk.
              .serviceConfiguration(S3Configuration.builder().chunkedEncodingEnabled(false).build())
              .requestChecksumCalculation(RequestChecksumCalculation.WHEN_REQUIRED)
              .responseChecksumValidation(ResponseChecksumValidation.WHEN_REQUIRED)
              .overrideConfiguration(override -> override.retryStrategy(RetryMode.STANDARD));
      address.endpoint().ifPresent(url -> builder.endpointOverride(URI.create(url)));
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

  private <T> T call(String doing, S3Failures.Right right, Supplier<T> work) {
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
                S3Failures.Right.LIST,
                () ->
                    client()
                        .listObjectsV2(
                            request ->
                                request
                                    .bucket(bucket)
                                    .prefix(prefix + pathPrefix)
                                    .startAfter(after.isEmpty() ? null : prefix + after)
                                    .continuationToken(token))),
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
    return call(
        "Looking at " + path,
        S3Failures.Right.READ,
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
            throw e;
          }
        });
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
        S3Failures.Right.READ,
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
          return new ResumingStream.Source(in, in::abort);
        });
  }

  @Override
  public byte[] bytes(StagedFile file, long position, int length) {
    return call(
        "Reading " + file.path(),
        S3Failures.Right.READ,
        () ->
            client()
                .getObject(
                    request ->
                        request
                            .bucket(bucket)
                            .key(prefix + file.path())
                            .ifMatch('"' + file.mark() + '"')
                            .range("bytes=%d-%d".formatted(position, position + length - 1)),
                    (response, in) -> taken(in, response.contentLength().intValue())));
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
  public StagedFile put(String path, Path local, LongConsumer sent) {
    return call(
        "Staging " + local + " as " + path,
        S3Failures.Right.WRITE,
        () -> {
          try {
            S3Upload upload = new S3Upload(client(), bucket, prefix + path, local, sent);
            String etag = bare(upload.run());
            return new StagedFile(path, upload.size(), etag, Instant.now());
          } catch (IOException e) {
            throw Failure.file("Reading " + local + " to stage it failed")
                .because(String.valueOf(e.getMessage()))
                .from(e);
          }
        });
  }

  @Override
  public boolean same(StagedFile staged, Path local) {
    try {
      if (Files.size(local) != staged.size()) {
        return false;
      }
      String known =
          head(staged.path()).map(h -> h.metadata().get(S3Upload.FINGERPRINT)).orElse(null);
      return known != null
          ? known.equals(FileDigests.sha256(local))
          : FileDigests.etag(local, staged.size()).equals(staged.mark());
    } catch (IOException e) {
      throw Failure.file("Reading " + local + " to compare it failed")
          .because(String.valueOf(e.getMessage()))
          .from(e);
    }
  }

  @Override
  public void remove(String path) {
    call(
        "Removing " + path,
        S3Failures.Right.WRITE,
        () -> client().deleteObject(request -> request.bucket(bucket).key(prefix + path)));
  }

  @Override
  public void move(StagedFile file, String path) {
    if (file.size() > MOST_COPIED) {
      throw Failure.depot(file.path() + " cannot be moved within depot " + name())
          .because("object stores copy at most 5 GiB at once")
          .next("It was left where it is. Move such files yourself, or split them when staging");
    }
    call(
        "Moving " + file.path() + " to " + path,
        S3Failures.Right.WRITE,
        () ->
            client()
                .copyObject(
                    request ->
                        request
                            .sourceBucket(bucket)
                            .sourceKey(prefix + file.path())
                            .copySourceIfMatch('"' + file.mark() + '"')
                            .destinationBucket(bucket)
                            .destinationKey(prefix + path)));
    remove(file);
  }

  /** Stores that know conditions leave a file alone that came meanwhile, others nearly always. */
  @Override
  public void remove(StagedFile file) {
    if (!look(file.path()).map(StagedFile::version).equals(Optional.of(file.version()))) {
      return;
    }
    call(
        "Removing " + file.path(),
        S3Failures.Right.WRITE,
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
        new ProbeStep("write", () -> ProbeSteps.write(this)));
  }

  /** Connects to the endpoint's port without saying anything. */
  private ProbeStep.Finding probeEndpoint() {
    if (address.endpoint().isEmpty()) {
      return ProbeStep.Finding.untried("region " + address.region());
    }
    URI uri = URI.create(address.endpoint().get());
    int port = uri.getPort() >= 0 ? uri.getPort() : uri.getScheme().equals("https") ? 443 : 80;
    try (Socket socket = new Socket()) {
      socket.connect(new InetSocketAddress(uri.getHost(), port), 5_000);
      return ProbeStep.Finding.passed("connected to " + uri.getHost() + " port " + port);
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
