package dev.dusky.app.alert;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import dev.dusky.app.config.AlertSettings.Command;
import dev.dusky.app.config.AlertSettings.Mail;
import dev.dusky.app.config.AlertSettings.Webhook;
import dev.dusky.app.http.Answers;
import dev.dusky.app.http.HttpService;
import dev.dusky.core.alert.AlertKind;
import dev.dusky.core.alert.AlertMessage;
import dev.dusky.core.alert.AlertMessage.Event;
import dev.dusky.core.secret.Secret;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Messages as targets receive them: real servers and a real program. */
class SendersTest {

  @TempDir Path folder;

  private static AlertMessage message(Event event, int change, String words) {
    return new AlertMessage(
        5,
        17,
        event,
        change,
        AlertKind.MISSING_FILES,
        "farms",
        words,
        "dusky files farms --missing",
        Instant.parse("2026-03-02T06:00:00Z"),
        0);
  }

  private record Posted(Map<String, String> headers, byte[] body) {}

  @Test
  void aWebhookReceivesSignedCloudEvents() throws Exception {
    List<Posted> posted = Collections.synchronizedList(new ArrayList<>());
    int[] status = {202};
    try (HttpService server =
        new HttpService(
            InetSocketAddress.createUnresolved("127.0.0.1", 0),
            1,
            "",
            exchange ->
                exchange
                    .getRequestReceiver()
                    .receiveFullBytes(
                        (done, body) -> {
                          Map<String, String> headers = new java.util.TreeMap<>();
                          done.getRequestHeaders()
                              .forEach(
                                  h -> headers.put(h.getHeaderName().toString(), h.getFirst()));
                          posted.add(new Posted(headers, body));
                          Answers.send(done, status[0], Map.of());
                        }))) {
      Webhook target =
          new Webhook(
              URI.create("http://127.0.0.1:" + server.port() + "/hook"),
              Optional.of(new Secret(() -> "hush")));
      Sender sender = new WebhookSender(target);
      String hostile = "line\r\nSet-Cookie: x\u0000\"<script>\u00e9";
      sender.send(List.of(message(Event.CHANGED, 3, hostile)));
      Posted event = posted.get(0);
      JsonNode json = new ObjectMapper().readTree(event.body());
      assertEquals("1.0", json.path("specversion").asText());
      assertEquals("alert-17-3", json.path("id").asText());
      assertEquals("dev.dusky.alert.changed", json.path("type").asText());
      assertEquals("farms", json.path("subject").asText());
      assertEquals(hostile, json.path("data").path("words").asText());
      String id = header(event, "webhook-id");
      Mac mac = Mac.getInstance("HmacSHA256");
      mac.init(new SecretKeySpec("hush".getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
      mac.update((id + "." + header(event, "webhook-timestamp") + ".").getBytes("UTF-8"));
      assertEquals(
          "v1," + Base64.getEncoder().encodeToString(mac.doFinal(event.body())),
          header(event, "webhook-signature"));
      status[0] = 503;
      IOException refused =
          assertThrows(IOException.class, () -> sender.send(List.of(message(Event.OVER, 4, "w"))));
      assertTrue(refused.getMessage().contains("answered 503"), refused.getMessage());
    }
  }

  private static String header(Posted posted, String name) {
    return posted.headers().entrySet().stream()
        .filter(h -> h.getKey().equalsIgnoreCase(name))
        .map(Map.Entry::getValue)
        .findFirst()
        .orElseThrow();
  }

  @Test
  void severalMessagesAreOneMail() throws Exception {
    GreenMail server = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
    server.start();
    try {
      server.setUser("ada@wrenfold.example", "dusky", "hush");
      URI smtp = URI.create("smtp://127.0.0.1:" + server.getSmtp().getPort());
      Mail target =
          new Mail(
              List.of("ada@wrenfold.example"),
              "dusky@wrenfold.example",
              smtp,
              Optional.empty(),
              Optional.empty());
      new MailSender(target)
          .send(
              List.of(
                  message(Event.OPEN, 0, "2 files did not come\r\nBcc: eve@elsewhere.example"),
                  message(Event.OVER, 1, "Z\u00e4hler")));
      MimeMessage mail = server.getReceivedMessages()[0];
      assertEquals(1, server.getReceivedMessages().length, "one mail, to one person");
      assertEquals(1, mail.getAllRecipients().length);
      assertTrue(
          mail.getSubject().startsWith("[dusky] 2 alerts: farms: 2 files did not come"),
          mail.getSubject());
      assertEquals("<alert-17-0@dusky>", mail.getMessageID());
      String text = (String) mail.getContent();
      assertTrue(text.contains("farms: over: Z\u00e4hler"), text);
      assertTrue(text.contains("dusky files farms --missing"), text);
      Mail secret =
          new Mail(
              target.to(),
              target.from(),
              smtp,
              Optional.of("dusky"),
              Optional.of(new Secret(() -> "hush")));
      assertThrows(
          IOException.class,
          () -> new MailSender(secret).send(List.of(message(Event.OPEN, 0, "w"))),
          "a password is not sent without TLS");
    } finally {
      server.stop();
    }
    Mail gone =
        new Mail(
            List.of("ada@wrenfold.example"),
            "dusky@wrenfold.example",
            URI.create("smtp://127.0.0.1:1"),
            Optional.empty(),
            Optional.empty());
    assertThrows(
        IOException.class, () -> new MailSender(gone).send(List.of(message(Event.OPEN, 0, "w"))));
  }

  @Test
  void aProgramReadsAMessageALine() throws Exception {
    Sender sender = new CommandSender(new Command(List.of("sh", "-c", "cat > told.txt")), folder);
    sender.send(List.of(message(Event.OPEN, 0, "a\nb"), message(Event.OVER, 1, "$(touch x)")));
    List<String> lines = Files.readAllLines(folder.resolve("told.txt"));
    assertEquals(2, lines.size());
    assertEquals("a\nb", new ObjectMapper().readTree(lines.get(0)).path("words").asText());
    assertEquals("over", new ObjectMapper().readTree(lines.get(1)).path("event").asText());
    IOException ended =
        assertThrows(
            IOException.class,
            () ->
                new CommandSender(new Command(List.of("sh", "-c", "echo no >&2; exit 3")), folder)
                    .send(List.of(message(Event.OPEN, 0, "w"))));
    assertTrue(ended.getMessage().contains("ended with 3: no"), ended.getMessage());
    assertThrows(
        IOException.class,
        () ->
            new CommandSender(new Command(List.of("./none-such")), folder)
                .send(List.of(message(Event.OPEN, 0, "w"))));
    new CommandSender(new Command(List.of("true")), folder)
        .send(Collections.nCopies(100, message(Event.OPEN, 0, "x".repeat(5000))));
  }
}
