package dev.dusky.app.watch;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.app.watch.Notifications.Arrival;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class NotificationsTest {

  static final String RECORD =
      """
      {"eventVersion":"2.1","eventName":"ObjectCreated:Put","s3":{"bucket":{"name":"intake"},
       "object":{"key":"daily/a+b%2Bc.csv","size":12,"eTag":"x"}}}""";

  private static List<Arrival> read(String body) {
    return Notifications.read(
        body.getBytes(StandardCharsets.UTF_8), Optional.empty(), Optional.empty());
  }

  private static final List<Arrival> ONE = List.of(new Arrival("intake", "daily/a b+c.csv"));

  @Test
  void s3EventsAreRead() {
    assertEquals(ONE, read("{\"Records\":[" + RECORD + "]}"));
    assertEquals(
        List.of(), read("{\"Records\":[" + RECORD.replace("Created:Put", "Removed:Delete") + "]}"));
    assertEquals(List.of(), read("{\"Service\":\"store\",\"Event\":\"s3:TestEvent\"}"));
  }

  @Test
  void cloudEventsAreRead() {
    String event =
        "{\"specversion\":\"1.0\",\"type\":\"object.created\",\"id\":\"1\",\"source\":\"%s\"%s}";
    assertEquals(ONE, read(event.formatted("x", ",\"data\":" + RECORD)));
    assertEquals(ONE, read(event.formatted("x", ",\"data\":{\"Records\":[" + RECORD + "]}")));
    List<Arrival> bySubject = List.of(new Arrival("intake", "daily/x+y.csv"));
    String subject = ",\"subject\":\"daily/x+y.csv\"";
    assertEquals(bySubject, read(event.formatted("https://store.example/intake/", subject)));
    assertEquals(bySubject, read(event.formatted("urn:store:intake", subject)));
    assertEquals(
        2,
        read("[" + event.formatted("a", subject) + "," + event.formatted("b", subject) + "]")
            .size());
    assertEquals(
        bySubject,
        Notifications.read(
            new byte[0], Optional.of("/buckets/intake"), Optional.of("/daily/x+y.csv")));
  }

  @Test
  void eventsOfAzuresBlobStorageAreRead() {
    String event =
        """
        {"specversion":"1.0","id":"1","type":"Microsoft.Storage.%s",
         "source":"/subscriptions/s/resourceGroups/g/providers/Microsoft.Storage/storageAccounts/wrenfold",
         "subject":"/blobServices/default/containers/intake/blobs/daily/x+y.csv",
         "data":{"api":"PutBlockList","url":"https://x"}}""";
    assertEquals(
        List.of(new Arrival("wrenfold/intake", "daily/x+y.csv")),
        read("[" + event.formatted("BlobCreated") + "]"));
    assertEquals(List.of(), read(event.formatted("BlobDeleted")));
  }

  @Test
  void whatATopicWrappedIsRead() {
    String message = ("{\"Records\":[" + RECORD + "]}").replace("\"", "\\\"").replace("\n", "");
    assertEquals(ONE, read("{\"Type\":\"Notification\",\"Message\":\"" + message + "\"}"));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "nonsense",
        "{\"Records\":7}",
        "{\"Records\":[{}]}",
        "{\"specversion\":\"1.0\",\"source\":\"x\"}",
        "{\"specversion\":\"0.3\"}",
        "[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[",
        "{\"Records\":[{\"s3\":{\"bucket\":{\"name\":\"b\"},\"object\":{\"key\":\"%zz\"}}}]}"
      })
  void whatIsNoNotificationIsToldToItsSender(String body) {
    IllegalArgumentException e = assertThrows(IllegalArgumentException.class, () -> read(body));
    assertTrue(e.getMessage().length() > 10, e.getMessage());
  }
}
