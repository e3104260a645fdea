package dev.dusky.standin;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;

/** A bare HTTP client that signs its requests itself, header by header. */
final class SignedClient {

  private final String endpoint;
  private final String accessKey;
  private final String secretKey;
  private final HttpClient http = HttpClient.newHttpClient();
  private Duration patience = Duration.ofMinutes(1);

  SignedClient(String endpoint, String accessKey, String secretKey) {
    this.endpoint = endpoint;
    this.accessKey = accessKey;
    this.secretKey = secretKey;
  }

  static HttpResponse<String> unsigned(String url) throws IOException, InterruptedException {
    return HttpClient.newHttpClient()
        .send(
            HttpRequest.newBuilder(URI.create(url)).build(), HttpResponse.BodyHandlers.ofString());
  }

  HttpResponse<String> send(String method, String pathAndQuery, String body)
      throws IOException, InterruptedException {
    return send(method, pathAndQuery, body, Map.of());
  }

  HttpResponse<String> send(
      String method, String pathAndQuery, String body, Map<String, String> headers)
      throws IOException, InterruptedException {
    return send(method, pathAndQuery, body, sha256(body), headers);
  }

  /** Sends a request that gives up soon. */
  HttpResponse<String> sendImpatiently(String method, String pathAndQuery, String body)
      throws IOException, InterruptedException {
    patience = Duration.ofMillis(300);
    try {
      return send(method, pathAndQuery, body);
    } finally {
      patience = Duration.ofMinutes(1);
    }
  }

  /** Sends other bytes than those whose digest is signed. */
  HttpResponse<String> sendOtherBytes(String path, String announced, String sent)
      throws IOException, InterruptedException {
    return send("PUT", path, sent, sha256(announced), Map.of());
  }

  private HttpResponse<String> send(
      String method, String pathAndQuery, String body, String digest, Map<String, String> headers)
      throws IOException, InterruptedException {
    String stamp =
        ZonedDateTime.now(ZoneOffset.UTC)
            .format(DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmmss'Z'"));
    String date = stamp.substring(0, 8);
    int question = pathAndQuery.indexOf('?');
    String path = question < 0 ? pathAndQuery : pathAndQuery.substring(0, question);
    List<String> query = new ArrayList<>();
    if (question >= 0) {
      query.addAll(List.of(pathAndQuery.substring(question + 1).split("&")));
      Collections.sort(query);
    }
    String canonical =
        String.join(
            "\n",
            method,
            path,
            String.join("&", query),
            "host:" + URI.create(endpoint).getAuthority(),
            "x-amz-content-sha256:" + digest,
            "x-amz-date:" + stamp,
            "",
            "host;x-amz-content-sha256;x-amz-date",
            digest);
    String scope = date + "/us-east-1/s3/aws4_request";
    String toSign = String.join("\n", "AWS4-HMAC-SHA256", stamp, scope, sha256(canonical));
    byte[] key = hmac(utf8("AWS4" + secretKey), date);
    for (String part : List.of("us-east-1", "s3", "aws4_request")) {
      key = hmac(key, part);
    }
    String signature = Digests.hex(hmac(key, toSign));
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create(endpoint + pathAndQuery))
            .method(method, HttpRequest.BodyPublishers.ofString(body))
            .timeout(patience)
            .header("x-amz-content-sha256", digest)
            .header("x-amz-date", stamp)
            .header(
                "Authorization",
                "AWS4-HMAC-SHA256 Credential="
                    + accessKey
                    + "/"
                    + scope
                    + ", SignedHeaders=host;x-amz-content-sha256;x-amz-date, Signature="
                    + signature);
    headers.forEach(request::header);
    return http.send(request.build(), HttpResponse.BodyHandlers.ofString());
  }

  private static String sha256(String text) {
    return Digests.hex(Digests.sha256(utf8(text)));
  }

  private static byte[] hmac(byte[] key, String text) {
    return Digests.hmac(key, utf8(text));
  }

  private static byte[] utf8(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }
}
