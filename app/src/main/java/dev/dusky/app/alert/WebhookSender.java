package dev.dusky.app.alert;

import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.app.config.AlertSettings.Webhook;
import dev.dusky.app.http.Hmac;
import dev.dusky.core.alert.AlertMessage;
import java.io.IOException;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Posts each message as a CloudEvent (1.0, JSON format, structured mode). With a secret it is
 * signed: the header {@code webhook-signature} has {@code v1,} and the Base64 of HMAC-SHA256 over
 * {@code webhook-id}, {@code webhook-timestamp} and the body, with dots between. The event's id is
 * the same in each attempt, so that a receiver can drop what it has already.
 */
final class WebhookSender implements Sender {

  private static final Duration PATIENCE = Duration.ofSeconds(15);

  private final Webhook target;
  private final HttpClient client =
      HttpClient.newBuilder()
          .connectTimeout(PATIENCE)
          .followRedirects(HttpClient.Redirect.NEVER)
          .build();

  WebhookSender(Webhook target) {
    this.target = target;
  }

  @Override
  public int most() {
    return 1;
  }

  @Override
  public void send(List<AlertMessage> messages) throws IOException, InterruptedException {
    for (AlertMessage message : messages) {
      send(message);
    }
  }

  private void send(AlertMessage message) throws IOException, InterruptedException {
    byte[] body = new ObjectMapper().writeValueAsBytes(event(message));
    HttpRequest.Builder request =
        HttpRequest.newBuilder(target.url())
            .timeout(PATIENCE)
            .header("Content-Type", "application/cloudevents+json; charset=UTF-8")
            .POST(BodyPublishers.ofByteArray(body));
    if (target.secret().isPresent()) {
      String time = String.valueOf(Instant.now().getEpochSecond());
      request
          .header("webhook-id", message.identity())
          .header("webhook-timestamp", time)
          .header("webhook-signature", "v1," + signature(message.identity(), time, body));
    }
    HttpResponse<Void> answer = client.send(request.build(), BodyHandlers.discarding());
    if (answer.statusCode() / 100 != 2) {
      throw new IOException(target.url().getHost() + " answered " + answer.statusCode());
    }
  }

  private static Map<String, Object> event(AlertMessage message) {
    Map<String, Object> event = new LinkedHashMap<>();
    event.put("specversion", "1.0");
    event.put("id", message.identity());
    event.put("source", "/dusky/ledger");
    event.put("type", "dev.dusky.alert." + message.event().label());
    event.put("subject", message.about());
    event.put("time", message.at().toString());
    event.put("datacontenttype", "application/json");
    event.put("data", MessageText.fields(message));
    return event;
  }

  private String signature(String id, String time, byte[] body) {
    byte[] head = (id + "." + time + ".").getBytes(StandardCharsets.UTF_8);
    byte[] code = Hmac.of(target.secret().orElseThrow(), head, body);
    return Base64.getEncoder().encodeToString(code);
  }
}
