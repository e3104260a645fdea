package dev.dusky.depots.policy;

import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.address.Storing;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.stream.Collectors;

/** A policy in the JSON language of stores that speak the S3 protocol. */
final class BucketPolicy {

  private static final String BUCKET = "arn:aws:s3:::";

  private BucketPolicy() {}

  static AccessPolicy of(DepotAddress address, AccessRights rights) {
    String place = address.at().substring("s3://".length()).replaceFirst("/+$", "");
    int slash = place.indexOf('/');
    String bucket = slash < 0 ? place : place.substring(0, slash);
    String root = slash < 0 ? "" : place.substring(slash + 1) + "/";
    List<String> statements = new ArrayList<>();
    if (!rights.list().isEmpty()) {
      List<String> prefixes = rights.list().stream().map(p -> root + p + "*").toList();
      boolean all = prefixes.contains("*");
      statements.add(
          statement(
              List.of("s3:ListBucket"),
              List.of(BUCKET + bucket),
              all
                  ? ""
                  : ",\n  \"Condition\": { \"StringLike\": { \"s3:prefix\": %s } }"
                      .formatted(array(prefixes))));
    }
    String below = BUCKET + bucket + "/" + root;
    add(statements, List.of("s3:GetObject"), below, rights.read());
    add(
        statements,
        address.storing().tags().isEmpty()
            ? List.of("s3:PutObject", "s3:AbortMultipartUpload", "s3:ListMultipartUploadParts")
            : List.of(
                "s3:PutObject",
                "s3:PutObjectTagging",
                "s3:AbortMultipartUpload",
                "s3:ListMultipartUploadParts"),
        below,
        rights.write());
    add(statements, List.of("s3:DeleteObject"), below, rights.remove());
    if (!rights.write().isEmpty()) {
      // Uploads that a killed process left are found and continued.
      statements.add(
          statement(List.of("s3:ListBucketMultipartUploads"), List.of(BUCKET + bucket), ""));
    }
    address
        .storing()
        .encryption()
        .flatMap(Storing.Encryption::key)
        .filter(key -> key.startsWith("arn:"))
        .ifPresent(
            key ->
                statements.add(
                    statement(List.of("kms:GenerateDataKey", "kms:Decrypt"), List.of(key), "")));
    return new AccessPolicy(
        "policy for " + who(address),
        """
        {
          "Version": "2012-10-17",
          "Statement": [
        %s
          ]
        }"""
            .formatted(String.join(",\n", statements)));
  }

  private static String who(DepotAddress address) {
    return "the identity of depot %s (%s)".formatted(address.name(), address.credentials().words());
  }

  private static void add(
      List<String> statements, List<String> actions, String below, Collection<String> prefixes) {
    if (!prefixes.isEmpty()) {
      statements.add(statement(actions, prefixes.stream().map(p -> below + p + "*").toList(), ""));
    }
  }

  private static String statement(List<String> actions, List<String> resources, String condition) {
    return """
        {
          "Effect": "Allow",
          "Action": %s,
          "Resource": %s%s
        }"""
        .formatted(array(actions), array(resources), condition)
        .indent(4)
        .stripTrailing();
  }

  private static String array(Collection<String> texts) {
    return texts.stream().map(BucketPolicy::quoted).collect(Collectors.joining(", ", "[", "]"));
  }

  private static String quoted(String text) {
    StringBuilder quoted = new StringBuilder("\"");
    for (char c : text.toCharArray()) {
      if (c == '"' || c == '\\') {
        quoted.append('\\').append(c);
      } else if (c < ' ') {
        quoted.append("\\u%04x".formatted((int) c));
      } else {
        quoted.append(c);
      }
    }
    return quoted.append('"').toString();
  }
}
