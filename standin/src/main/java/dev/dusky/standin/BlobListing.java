package dev.dusky.standin;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Base64;
import java.util.Map;

/** A page of a container's blobs. */
final class BlobListing {

  private static final int MOST = 5000;

  private BlobListing() {}

  static String xml(Bucket container, Map<String, String> query) {
    String prefix = query.getOrDefault("prefix", "");
    String marker = query.getOrDefault("marker", "");
    String after =
        marker.isEmpty()
            ? ""
            : new String(Base64.getUrlDecoder().decode(marker), StandardCharsets.UTF_8);
    String first = query.getOrDefault("startFrom", prefix);
    String from = after.isEmpty() ? first.compareTo(prefix) > 0 ? first : prefix : after;
    int most = Math.min(MOST, Integer.parseInt(query.getOrDefault("maxresults", "5000")));
    XmlText xml = new XmlText("EnumerationResults").put("Prefix", prefix).open("Blobs");
    int count = 0;
    String last = "";
    boolean more = false;
    for (StoredObject blob : container.objects().tailMap(from, after.isEmpty()).values()) {
      if (!blob.key().startsWith(prefix)) {
        break;
      }
      if (count == most) {
        more = true;
        break;
      }
      count++;
      last = blob.key();
      xml.open("Blob");
      name(xml, blob.key());
      xml.open("Properties")
          .put("Etag", '"' + blob.etag() + '"')
          .put("Content-Length", blob.size())
          .put(
              "Last-Modified",
              DateTimeFormatter.RFC_1123_DATE_TIME.format(blob.modified().atOffset(ZoneOffset.UTC)))
          .put("BlobType", "BlockBlob")
          .close();
      xml.open("Metadata");
      blob.metadata().forEach(xml::put);
      xml.close().close();
    }
    xml.close();
    String next =
        more ? Base64.getUrlEncoder().encodeToString(last.getBytes(StandardCharsets.UTF_8)) : "";
    return xml.put("NextMarker", next).end();
  }

  /** Names that XML cannot carry are encoded, and marked so. */
  private static void name(XmlText xml, String key) {
    boolean plain = key.chars().allMatch(c -> c >= ' ' && c != 0xfffe && c != 0xffff);
    if (plain) {
      xml.put("Name", key);
    } else {
      xml.put(
          "Name",
          "Encoded",
          "true",
          URLEncoder.encode(key, StandardCharsets.UTF_8).replace("+", "%20"));
    }
  }
}
