package dev.dusky.depots;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import javax.xml.stream.XMLStreamException;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.services.s3.model.S3Exception;

/** Says which of endpoint, key, bucket or right is at fault when the S3 protocol fails. */
final class S3Failures {

  private final DepotAddress address;
  private final String bucket;

  S3Failures(DepotAddress address, String bucket) {
    this.address = address;
    this.bucket = bucket;
  }

  /** The failure of a request, from the answer or from the lack of one. */
  Failure of(String doing, S3Request.Right right, SdkException e) {
    boolean signed = address.accessKey().isPresent();
    return (e instanceof S3Exception s3
            ? answered(new S3Request(doing, right, signed), S3Answer.of(s3))
            : unanswered(doing, e))
        .from(e);
  }

  private Failure answered(S3Request request, S3Answer answer) {
    S3Cause cause = S3Cause.of(answer, request);
    String why = fill(cause.why(), request, answer);
    return Failure.depot(fill(cause.what(), request, answer))
        .because(
            why.isEmpty()
                ? request.doing() + ": " + answer.words()
                : why + " (" + answer.words() + ")")
        .hint(cause.hint().map(text -> fill(text, request, answer)));
  }

  private String fill(String text, S3Request request, S3Answer answer) {
    return text.replace("{depot}", address.name())
        .replace("{bucket}", bucket)
        .replace("{doing}", request.doing())
        .replace("{right}", request.right().words())
        .replace("{action}", request.right().action())
        .replace("{region}", answer.region().orElse(""))
        .replace("{location}", answer.location().map(l -> "to " + l).orElse("elsewhere"))
        .replace("{clock}", answer.skewWords());
  }

  private Failure unanswered(String doing, SdkException e) {
    boolean io = false;
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      if (cause instanceof XMLStreamException
          || cause.getMessage() != null && cause.getMessage().contains("parse XML")) {
        return broken(doing, "the answer is not the XML of the S3 protocol");
      }
      io |= cause instanceof IOException;
    }
    if (io) {
      return unreachable(e);
    }
    return Failure.depot(doing + " in depot " + address.name() + " failed")
        .because(String.valueOf(e.getMessage()))
        .hint("Check endpoint:, region: and at: of the depot");
  }

  /** An answer of status 200 that lacks what the protocol says must be in it. */
  Failure foreign(String doing, String lacking) {
    return Failure.depot("The endpoint of depot " + address.name() + " does not speak S3")
        .because(
            "%s at %s was answered with success, but without %s".formatted(doing, address, lacking))
        .hint(
            "Set endpoint: to the address and port of the S3 service. A login page of the network,"
                + " a console or a gateway may answer in its place");
  }

  /** A part that each answer of the protocol has; without it, something else has answered. */
  <T> T require(String doing, String part, T value) {
    if (value == null) {
      throw foreign(doing, part);
    }
    return value;
  }

  /** An answer that is not whole. */
  Failure broken(String doing, String why) {
    return Failure.depot(doing + " in depot " + address.name() + " failed")
        .because(why)
        .hint(
            "The answer was not used. Run again; if it happens again, look for an object with an"
                + " unusual name there, and check the network between this machine and the endpoint");
  }

  /** No connection, or no answer. */
  Failure unreachable(Throwable e) {
    ConnectionCause cause = ConnectionCause.of(e);
    Throwable root = e;
    while (root.getCause() != null) {
      root = root.getCause();
    }
    String words = root.getMessage() == null ? root.getClass().getSimpleName() : root.getMessage();
    return Failure.depot("Depot " + address.name() + " cannot be reached at " + address)
        .because(cause.why().isEmpty() ? words : cause.why())
        .hint(cause.hint())
        .from(e);
  }
}
