package dev.dusky.depots.web;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.address.Network;
import dev.dusky.depots.network.ProxyChoice;
import dev.dusky.depots.network.TrustedAuthorities;
import dev.dusky.depots.probe.ConnectionCause;
import java.io.IOException;
import java.io.InputStream;
import java.net.Authenticator;
import java.net.PasswordAuthentication;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeParseException;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

/**
 * Sends requests that only read. Redirects are followed, with the login only to the same host and
 * never from https to http; what may pass by itself is tried again, after the pause that the server
 * asks for.
 */
final class WebRequests {

  private static final int TRIES = 5;
  private static final int MOST_REDIRECTS = 5;
  private static final long FIRST_PAUSE_MILLIS = 200;
  private static final Duration LONGEST_PAUSE = Duration.ofSeconds(60);

  private final DepotAddress address;
  private HttpClient client;

  WebRequests(DepotAddress address) {
    this.address = address;
  }

  private synchronized HttpClient client() {
    if (client == null) {
      Network network = address.network();
      HttpClient.Builder builder =
          HttpClient.newBuilder()
              .connectTimeout(network.connect())
              .followRedirects(HttpClient.Redirect.NEVER)
              .proxy(new ProxyChoice(network, System.getenv()));
      network
          .caFile()
          .map(file -> new TrustedAuthorities(address.name(), file).context())
          .ifPresent(builder::sslContext);
      network
          .proxy()
          .flatMap(Network.Proxy::login)
          .ifPresent(login -> builder.authenticator(authenticator(login)));
      client = builder.build();
    }
    return client;
  }

  private static Authenticator authenticator(Network.ProxyLogin login) {
    return new Authenticator() {
      @Override
      protected PasswordAuthentication getPasswordAuthentication() {
        return getRequestorType() == RequestorType.PROXY
            ? new PasswordAuthentication(login.user(), login.password().reveal().toCharArray())
            : null;
      }
    };
  }

  /** Sends a request and gives the answer, whatever its status but those that may pass. */
  HttpResponse<InputStream> send(String method, URI uri, Map<String, String> headers) {
    IOException broken = null;
    for (int attempt = 1; ; attempt++) {
      long pause = FIRST_PAUSE_MILLIS << attempt;
      try {
        HttpResponse<InputStream> answer = redirected(method, uri, headers);
        boolean passing = answer.statusCode() == 429 || answer.statusCode() / 100 == 5;
        if (!passing || answer.statusCode() == 501 || attempt == TRIES) {
          return answer;
        }
        answer.body().close();
        pause = answer.headers().firstValue("Retry-After").map(WebRequests::millis).orElse(pause);
      } catch (IOException e) {
        if (attempt == TRIES) {
          throw ConnectionCause.failure(address, e);
        }
        broken = e;
      }
      pause(pause, broken);
    }
  }

  private void pause(long millis, IOException cause) {
    try {
      TimeUnit.MILLISECONDS.sleep(millis);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw stopped(cause == null ? e : cause);
    }
  }

  private Failure stopped(Exception e) {
    return Failure.of(Failure.Kind.INTERRUPTED, "Reading depot " + address.name() + " was stopped")
        .from(e);
  }

  /** The pause that a server asks for, in seconds or as a date, a minute at most. */
  private static long millis(String text) {
    Duration pause;
    if (text.matches("\\d{1,9}")) {
      pause = Duration.ofSeconds(Long.parseLong(text));
    } else {
      try {
        Instant until = Instant.from(DateTimeFormatter.RFC_1123_DATE_TIME.parse(text));
        pause = Duration.between(Instant.now(), until);
      } catch (DateTimeParseException e) {
        pause = Duration.ofMillis(FIRST_PAUSE_MILLIS); // it asks for nothing that we understand
      }
    }
    return Math.max(0, Math.min(pause.toMillis(), LONGEST_PAUSE.toMillis()));
  }

  private HttpResponse<InputStream> redirected(String method, URI uri, Map<String, String> headers)
      throws IOException {
    URI at = uri;
    for (int redirects = 0; ; redirects++) {
      HttpResponse<InputStream> answer =
          once(method, at, headers, at.getHost().equals(uri.getHost()));
      Optional<String> location = answer.headers().firstValue("Location");
      boolean redirect = answer.statusCode() / 100 == 3 && answer.statusCode() != 304;
      if (!redirect || location.isEmpty()) {
        return answer;
      }
      answer.body().close();
      URI next = at.resolve(location.get());
      boolean weaker = "https".equals(at.getScheme()) && !"https".equals(next.getScheme());
      if (redirects == MOST_REDIRECTS || weaker || next.getHost() == null) {
        throw Failure.depot("Depot " + address.name() + " redirects to " + WebAddress.shown(next))
            .because(weaker ? "that is not encrypted" : "it redirects again and again")
            .hint("Correct at: of the depot to where the files really are");
      }
      at = next;
    }
  }

  private HttpResponse<InputStream> once(
      String method, URI uri, Map<String, String> headers, boolean home) throws IOException {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(uri)
            .timeout(address.network().answer())
            .header("User-Agent", "dusky")
            .header("Accept-Encoding", "identity")
            .method(method, HttpRequest.BodyPublishers.noBody());
    headers.forEach(request::header);
    if (home) {
      authorisation().ifPresent(value -> request.header("Authorization", value));
    }
    try {
      return client().send(request.build(), BodyHandlers.ofInputStream());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw stopped(e);
    }
  }

  private Optional<String> authorisation() {
    Credentials credentials = address.credentials();
    if (credentials instanceof Credentials.Bearer bearer) {
      return Optional.of("Bearer " + bearer.token().reveal());
    }
    if (credentials instanceof Credentials.Login login) {
      String password = login.password().map(secret -> secret.reveal()).orElse("");
      byte[] pair = (login.user() + ":" + password).getBytes(StandardCharsets.UTF_8);
      return Optional.of("Basic " + Base64.getEncoder().encodeToString(pair));
    }
    return Optional.empty();
  }
}
