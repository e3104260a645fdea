package dev.dusky.depots.azure;

import com.azure.core.credential.TokenCredential;
import com.azure.core.http.HttpClient;
import com.azure.core.http.ProxyOptions;
import com.azure.core.http.jdk.httpclient.JdkHttpClientBuilder;
import com.azure.core.util.Configuration;
import com.azure.identity.DefaultAzureCredentialBuilder;
import com.azure.identity.EnvironmentCredentialBuilder;
import com.azure.identity.ManagedIdentityCredentialBuilder;
import com.azure.identity.WorkloadIdentityCredentialBuilder;
import com.azure.storage.blob.BlobContainerClient;
import com.azure.storage.blob.BlobContainerClientBuilder;
import com.azure.storage.common.StorageSharedKeyCredential;
import com.azure.storage.common.policy.RequestRetryOptions;
import com.azure.storage.common.policy.RetryPolicyType;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.address.Network;
import dev.dusky.depots.network.ProxyChoice;
import dev.dusky.depots.network.TrustedAuthorities;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.time.Duration;

/** The client of a container with its credentials and its connections. */
final class AzureConnection {

  private static final int TRIES = 4;
  private static final Duration FIRST_PAUSE = Duration.ofMillis(150);
  private static final Duration LONGEST_PAUSE = Duration.ofSeconds(20);
  private static final int PROBE_MILLIS = 5_000;

  private final DepotAddress address;
  private final AzurePlace place;
  private final ProxyChoice proxy;
  private BlobContainerClient client;

  AzureConnection(DepotAddress address, AzurePlace place) {
    this.address = address;
    this.place = place;
    this.proxy = new ProxyChoice(address.network(), System.getenv());
  }

  /** The client, made when it is first needed since its classes are many. */
  synchronized BlobContainerClient client() {
    if (client == null) {
      HttpClient http = http();
      BlobContainerClientBuilder builder =
          new BlobContainerClientBuilder()
              .configuration(Configuration.NONE)
              .httpClient(http)
              .retryOptions(
                  new RequestRetryOptions(
                      RetryPolicyType.EXPONENTIAL,
                      TRIES,
                      (Integer) null,
                      FIRST_PAUSE.toMillis(),
                      LONGEST_PAUSE.toMillis(),
                      null))
              .addPolicy(new AzureMeter());
      authorise(builder, http);
      address
          .storing()
          .encryption()
          .flatMap(encryption -> encryption.key())
          .ifPresent(builder::encryptionScope);
      client = builder.containerName(place.container()).buildClient();
    }
    return client;
  }

  private void authorise(BlobContainerClientBuilder builder, HttpClient http) {
    Credentials credentials = address.credentials();
    if (credentials instanceof Credentials.Connection connection) {
      builder.connectionString(connection.text().reveal());
      address.endpoint().ifPresent(own -> builder.endpoint(place.endpoint()));
      return;
    }
    builder.endpoint(place.endpoint());
    if (credentials instanceof Credentials.AccountKey key) {
      builder.credential(new StorageSharedKeyCredential(place.account(), key.key().reveal()));
    } else if (credentials instanceof Credentials.SharedAccess shared) {
      builder.sasToken(shared.token().reveal());
    } else if (credentials instanceof Credentials.Anonymous) {
      builder.setAnonymousAccess();
    } else {
      builder.credential(token(credentials, http));
    }
  }

  private TokenCredential token(Credentials credentials, HttpClient http) {
    if (credentials instanceof Credentials.Usual) {
      return new DefaultAzureCredentialBuilder().httpClient(http).build();
    }
    if (credentials instanceof Credentials.Environment) {
      return new EnvironmentCredentialBuilder().httpClient(http).build();
    }
    if (credentials instanceof Credentials.Instance) {
      return new ManagedIdentityCredentialBuilder().httpClient(http).build();
    }
    if (credentials instanceof Credentials.WebIdentity) {
      return new WorkloadIdentityCredentialBuilder().httpClient(http).build();
    }
    throw Failure.configuration("Depot " + address.name() + " cannot use its credentials")
        .because(credentials.words() + " is not for Azure")
        .hint(
            "Give account-key, shared-access or connection-string, or a source of docs/stores.md");
  }

  private HttpClient http() {
    Network network = address.network();
    java.net.http.HttpClient.Builder jdk = java.net.http.HttpClient.newBuilder().proxy(proxy);
    network
        .caFile()
        .ifPresent(file -> jdk.sslContext(new TrustedAuthorities(address.name(), file).context()));
    JdkHttpClientBuilder builder =
        new JdkHttpClientBuilder(jdk)
            .configuration(Configuration.NONE)
            .connectionTimeout(network.connect())
            .responseTimeout(network.answer())
            .readTimeout(network.answer())
            .writeTimeout(network.answer());
    network.proxy().ifPresent(declared -> builder.proxy(options(declared)));
    return builder.build();
  }

  private static ProxyOptions options(Network.Proxy proxy) {
    ProxyOptions options =
        new ProxyOptions(
            ProxyOptions.Type.HTTP,
            new InetSocketAddress(proxy.at().getHost(), proxy.at().getPort()));
    proxy
        .login()
        .ifPresent(login -> options.setCredentials(login.user(), login.password().reveal()));
    return options;
  }

  /** Connects to the service's port, or to the proxy's; gives what it connected to. */
  String connect() throws IOException {
    URI service = URI.create(client().getAccountUrl());
    URI target = proxy.proxy(service).orElse(service);
    int port =
        target.getPort() >= 0 ? target.getPort() : "http".equals(target.getScheme()) ? 80 : 443;
    try (Socket socket = new Socket()) {
      socket.connect(new InetSocketAddress(target.getHost(), port), PROBE_MILLIS);
    }
    return "%s%s port %d".formatted(target.equals(service) ? "" : "proxy ", target.getHost(), port);
  }
}
