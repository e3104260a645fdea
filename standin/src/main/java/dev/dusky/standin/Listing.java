package dev.dusky.standin;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.Map;

/** Answers list requests, version 2, page by page, with prefix and delimiter. */
final class Listing {

  private static final int MOST = 1000;

  private Listing() {}

  static String xml(String bucketName, Bucket bucket, Map<String, String> query) {
    String prefix = query.getOrDefault("prefix", "");
    String delimiter = query.getOrDefault("delimiter", "");
    int most = Math.min(MOST, Integer.parseInt(query.getOrDefault("max-keys", "1000")));
    String token = query.get("continuation-token");
    String after = token == null ? query.getOrDefault("start-after", "") : decode(token);
    boolean encode = "url".equals(query.get("encoding-type"));
    XmlText xml = new XmlText("ListBucketResult");
    xml.put("Name", bucketName).put("Prefix", shown(prefix, encode)).put("MaxKeys", most);
    int count = 0;
    String last = after;
    String group = null;
    boolean more = false;
    String from = after.compareTo(prefix) >= 0 ? after : prefix;
    boolean inclusive = from.equals(prefix) && !from.equals(after);
    for (StoredObject object :
        bucket.objects().tailMap(from, inclusive || after.isEmpty()).values()) {
      String key = object.key();
      if (!key.startsWith(prefix)) {
        break;
      }
      int end = delimiter.isEmpty() ? -1 : key.indexOf(delimiter, prefix.length());
      String common = end < 0 ? null : key.substring(0, end + delimiter.length());
      if (common != null && (common.equals(group) || after.startsWith(common))) {
        continue;
      }
      if (count == most) {
        more = true;
        break;
      }
      count++;
      last = common == null ? key : common;
      group = common;
      if (common == null) {
        xml.open("Contents")
            .put("Key", shown(key, encode))
            .put("LastModified", object.modified())
            .put("ETag", '"' + object.etag() + '"')
            .put("Size", object.size())
            .put("StorageClass", "STANDARD")
            .close();
      } else {
        xml.open("CommonPrefixes").put("Prefix", shown(common, encode)).close();
      }
    }
    if (encode) {
      xml.put("EncodingType", "url");
    }
    xml.put("KeyCount", count).put("IsTruncated", more);
    if (more) {
      xml.put("NextContinuationToken", encode(last));
    }
    return xml.end();
  }

  private static String shown(String key, boolean encode) {
    return encode
        ? URLEncoder.encode(key, StandardCharsets.UTF_8).replace("+", "%20").replace("%2F", "/")
        : key;
  }

  private static String encode(String key) {
    return Base64.getUrlEncoder().encodeToString(key.getBytes(StandardCharsets.UTF_8));
  }

  private static String decode(String token) {
    return new String(Base64.getUrlDecoder().decode(token), StandardCharsets.UTF_8);
  }
}
