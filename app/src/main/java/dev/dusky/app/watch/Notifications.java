package dev.dusky.app.watch;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Reads what object stores send when something is stored: S3 event notifications (records with
 * bucket and URL-encoded key), alone or as the data of a CloudEvent (version 1.0, structured,
 * batched or binary), CloudEvents of Azure's blob storage, and CloudEvents whose subject is the
 * object's path and whose source ends in its bucket. A topic may have wrapped them in a message.
 */
final class Notifications {

  /**
   * An object named by a notification.
   *
   * @param place its bucket, its account and container, or the name of a depot
   * @param key its key in there
   */
  record Arrival(String place, String key) {}

  private static final ObjectMapper JSON =
      new ObjectMapper(
          JsonFactory.builder()
              .streamReadConstraints(
                  StreamReadConstraints.builder()
                      .maxNestingDepth(50)
                      .maxStringLength(1 << 20)
                      .build())
              .build());

  private static final Pattern BLOB =
      Pattern.compile("(?s)/blobServices/default/containers/([^/]+)/blobs/(.+)");
  private static final Pattern ACCOUNT = Pattern.compile("/storageAccounts/([^/]+)$");

  private Notifications() {}

  /**
   * Reads one request's body.
   *
   * @param source the header {@code ce-source} of a binary CloudEvent
   * @param subject its header {@code ce-subject}
   * @throws IllegalArgumentException with a message for the sender if it is nothing of the kind
   */
  static List<Arrival> read(byte[] body, Optional<String> source, Optional<String> subject) {
    List<Arrival> arrivals = new ArrayList<>();
    try {
      JsonNode root = body.length == 0 ? JSON.createObjectNode() : JSON.readTree(body);
      if (source.isPresent()) {
        event(source.get(), subject.orElse(""), "", root, arrivals);
      } else if (root.isArray()) {
        root.forEach(event -> structured(event, arrivals));
      } else {
        structured(root, arrivals);
      }
    } catch (JsonProcessingException e) {
      throw new IllegalArgumentException("the body is not JSON: " + e.getOriginalMessage(), e);
    } catch (IOException e) {
      throw new IllegalArgumentException("the body cannot be read: " + e.getMessage(), e);
    }
    return arrivals;
  }

  private static void structured(JsonNode event, List<Arrival> arrivals) {
    if (event.path("Type").asText().equals("Notification") && event.path("Message").isTextual()) {
      byte[] wrapped = event.path("Message").asText().getBytes(StandardCharsets.UTF_8);
      arrivals.addAll(read(wrapped, Optional.empty(), Optional.empty()));
    } else if (event.has("Records")) {
      records(event, arrivals);
    } else if (event.path("specversion").asText().startsWith("1.")) {
      event(
          event.path("source").asText(),
          event.path("subject").asText(),
          event.path("type").asText(),
          event.path("data"),
          arrivals);
    } else if (!event.path("Event").asText().equals("s3:TestEvent")) {
      throw new IllegalArgumentException("it is neither an S3 event notification nor a CloudEvent");
    }
  }

  private static void event(
      String source, String subject, String type, JsonNode data, List<Arrival> arrivals) {
    Matcher blob = BLOB.matcher(subject);
    Matcher account = ACCOUNT.matcher(source);
    if (blob.matches() && account.find()) {
      if (type.endsWith("BlobDeleted")) {
        return; // what has gone is found when its turn comes
      }
      arrivals.add(new Arrival(account.group(1) + "/" + blob.group(1), blob.group(2)));
    } else if (data.has("Records")) {
      records(data, arrivals);
    } else if (data.has("s3")) {
      record(data, arrivals);
    } else if (data.path("bucket").has("name") && data.path("object").has("key")) {
      object(data, arrivals);
    } else if (!subject.isEmpty()) {
      String place = source.replaceAll("/+$", "");
      place = place.substring(Math.max(place.lastIndexOf('/'), place.lastIndexOf(':')) + 1);
      arrivals.add(new Arrival(place, subject.replaceFirst("^/+", "")));
    } else {
      throw new IllegalArgumentException(
          "the CloudEvent names no object: it needs a subject, or bucket and key in its data");
    }
  }

  private static void records(JsonNode root, List<Arrival> arrivals) {
    if (!root.path("Records").isArray()) {
      throw new IllegalArgumentException("Records is not a list");
    }
    root.path("Records").forEach(record -> record(record, arrivals));
  }

  private static void record(JsonNode record, List<Arrival> arrivals) {
    String what = record.path("eventName").asText();
    if (what.contains("Removed") || what.contains("Delete")) {
      return; // what has gone is found when its turn comes
    }
    JsonNode s3 = record.path("s3");
    if (!s3.path("bucket").has("name") || !s3.path("object").has("key")) {
      throw new IllegalArgumentException("a record has no s3.bucket.name and s3.object.key");
    }
    object(s3, arrivals);
  }

  private static void object(JsonNode s3, List<Arrival> arrivals) {
    String key = s3.path("object").path("key").asText();
    try {
      arrivals.add(
          new Arrival(
              s3.path("bucket").path("name").asText(),
              URLDecoder.decode(key, StandardCharsets.UTF_8)));
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException("the key '" + key + "' is not URL-encoded", e);
    }
  }
}
