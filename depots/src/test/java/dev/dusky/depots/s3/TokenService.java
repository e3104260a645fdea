package dev.dusky.depots.s3;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;

/**
 * Gives out one temporary key, as a token service for roles and web identities does, and as the
 * metadata service of a machine does.
 */
final class TokenService implements AutoCloseable {

  static final String ACCESS = "TEMPORARY";
  static final String SECRET = "temporary-secret";
  static final String TOKEN = "temporary-token";

  private final HttpServer server;

  /** The parameters of the last request to the token service. */
  final Map<String, String> asked = new HashMap<>();

  TokenService() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
    server.createContext("/latest/api/token", exchange -> answer(exchange, "metadata-token"));
    server.createContext(
        "/latest/meta-data/iam/security-credentials/",
        exchange ->
            answer(exchange, exchange.getRequestURI().getPath().endsWith("/") ? "role" : json()));
    server.createContext("/", this::role);
    server.start();
  }

  String url() {
    return "http://127.0.0.1:" + server.getAddress().getPort();
  }

  private static String later() {
    return Instant.now().plusSeconds(3600).toString();
  }

  private static String json() {
    return """
        {"Code":"Success","Type":"AWS-HMAC","AccessKeyId":"%s","SecretAccessKey":"%s","Token":"%s",
        "Expiration":"%s"}"""
        .formatted(ACCESS, SECRET, TOKEN, later());
  }

  private void role(HttpExchange exchange) throws IOException {
    String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
    asked.clear();
    for (String pair : body.split("&")) {
      String[] parts = pair.split("=", 2);
      asked.put(parts[0], URLDecoder.decode(parts[1], StandardCharsets.UTF_8));
    }
    String action = asked.get("Action");
    answer(
        exchange,
        """
        <%sResponse><%sResult><Credentials><AccessKeyId>%s</AccessKeyId>
        <SecretAccessKey>%s</SecretAccessKey><SessionToken>%s</SessionToken>
        <Expiration>%s</Expiration></Credentials></%sResult></%sResponse>"""
            .formatted(action, action, ACCESS, SECRET, TOKEN, later(), action, action));
  }

  private static void answer(HttpExchange exchange, String text) throws IOException {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    exchange.sendResponseHeaders(200, bytes.length);
    exchange.getResponseBody().write(bytes);
    exchange.close();
  }

  @Override
  public void close() {
    server.stop(0);
  }
}
