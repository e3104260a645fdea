package dev.dusky.depots.s3;

import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.address.Network;
import dev.dusky.depots.network.TrustedAuthorities;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.util.Optional;
import software.amazon.awssdk.core.checksums.RequestChecksumCalculation;
import software.amazon.awssdk.core.checksums.ResponseChecksumValidation;
import software.amazon.awssdk.core.exception.SdkClientException;
import software.amazon.awssdk.core.retry.RetryMode;
import software.amazon.awssdk.http.SdkHttpClient;
import software.amazon.awssdk.http.urlconnection.ProxyConfiguration;
import software.amazon.awssdk.http.urlconnection.UrlConnectionHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.regions.providers.DefaultAwsRegionProviderChain;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.S3Configuration;
import software.amazon.awssdk.services.sqs.SqsClient;
import software.amazon.awssdk.services.sqs.SqsClientBuilder;

/**
 * The clients of a store of the S3 protocol, and of its queues, with credentials and connections.
 */
public final class S3Connection implements AutoCloseable {

  /** The region where none is declared and the environment names none. */
  private static final String REGION = "us-east-1";

  private static final int PROBE_MILLIS = 5_000;

  private final DepotAddress address;
  private final Optional<S3Endpoint> endpoint;
  private final ProxyConfiguration proxy;
  private SdkHttpClient http;
  private S3Identity identity;
  private S3Client client;

  S3Connection(DepotAddress address, String bucket) {
    this.address = address;
    this.endpoint = S3Endpoint.of(address, bucket);
    String scheme = endpoint.map(e -> e.uri().getScheme()).orElse("https");
    this.proxy =
        address.network().proxy().map(S3Connection::declared).orElse(S3Endpoint.proxy(scheme));
  }

  private static ProxyConfiguration declared(Network.Proxy proxy) {
    var configuration =
        ProxyConfiguration.builder()
            .endpoint(proxy.at())
            .useSystemPropertyValues(false)
            .useEnvironmentVariablesValues(false);
    proxy
        .login()
        .ifPresent(
            login -> configuration.username(login.user()).password(login.password().reveal()));
    return configuration.build();
  }

  /** The client, made when it is first needed since its classes are many. */
  synchronized S3Client client() {
    if (client == null) {
      Region region = Region.of(region());
      http = http();
      identity = S3Identity.of(address, region, http);
      var builder =
          S3Client.builder()
              .httpClient(http)
              .region(region)
              .credentialsProvider(identity.provider())
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
                          .addExecutionInterceptor(new S3Meter())
                          .addExecutionInterceptor(new S3Storing(address.storing())));
      endpoint.ifPresent(e -> builder.endpointOverride(e.uri()));
      client = builder.build();
    }
    return client;
  }

  /** A client of a queue, with the credentials and connections of an address. */
  public static SqsClientBuilder queue(DepotAddress address, String region) {
    S3Connection connection = new S3Connection(address, "");
    SdkHttpClient http = connection.http();
    return SqsClient.builder()
        .httpClient(http)
        .region(Region.of(region))
        .credentialsProvider(S3Identity.of(address, Region.of(region), http).provider())
        .overrideConfiguration(override -> override.retryStrategy(RetryMode.STANDARD));
  }

  private SdkHttpClient http() {
    var builder =
        UrlConnectionHttpClient.builder()
            .connectionTimeout(address.network().connect())
            .socketTimeout(address.network().answer())
            .proxyConfiguration(proxy);
    address
        .network()
        .caFile()
        .map(file -> new TrustedAuthorities(address.name(), file).managers())
        .ifPresent(managers -> builder.tlsTrustManagersProvider(() -> managers));
    return builder.build();
  }

  /** The region: the declared one; without an endpoint that of the environment, if it names one. */
  String region() {
    if (address.region().isPresent() || endpoint.isPresent()) {
      return address.region().orElse(REGION);
    }
    try {
      return DefaultAwsRegionProviderChain.builder().build().getRegion().id();
    } catch (SdkClientException e) {
      return REGION; // nothing names one; a bucket elsewhere is refused with its region
    }
  }

  /** Resolves the credentials; gives the source that answered. */
  String identity() {
    client();
    identity.provider().resolveCredentials();
    return identity.words();
  }

  /** The credentials in words: the source that answered, once one did. */
  synchronized String credentials() {
    return identity == null ? address.credentials().words() : identity.words();
  }

  /**
   * Connects to the endpoint's port, or to the proxy's, without saying anything; gives what it
   * connected to.
   */
  Optional<String> connect() throws IOException {
    if (endpoint.isEmpty()) {
      return Optional.empty();
    }
    S3Endpoint.Target target = endpoint.get().target(proxy);
    try (Socket socket = new Socket()) {
      socket.connect(new InetSocketAddress(target.host(), target.port()), PROBE_MILLIS);
      return Optional.of(target.words());
    }
  }

  @Override
  public synchronized void close() {
    if (client != null) {
      client.close();
      http.close();
    }
  }
}
