package dev.dusky.depots.s3;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.probe.Causes;
import dev.dusky.depots.probe.ConnectionCause;
import dev.dusky.depots.probe.StoreRequest;
import java.io.IOException;
import java.util.function.Supplier;
import javax.xml.stream.XMLStreamException;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.services.s3.model.S3Exception;

/** Says which of endpoint, key, bucket or right is at fault when the S3 protocol fails. */
final class S3Failures {

  private final DepotAddress address;

  private final Causes causes;

  /**
   * The failures of a depot.
   *
   * @param credentials the source of its credentials in words
   */
  S3Failures(DepotAddress address, String bucket, Supplier<String> credentials) {
    this.address = address;
    this.causes = new Causes(S3Causes.ALL, address, bucket, S3Failures::action, credentials);
  }

  /** The failure of a request, from the answer or from the lack of one. */
  Failure of(String doing, StoreRequest.Right right, SdkException e) {
    boolean signed = !(address.credentials() instanceof Credentials.Anonymous);
    return (e instanceof S3Exception s3
            ? causes.failure(new StoreRequest(doing, right, signed), S3Answers.of(s3))
            : unanswered(doing, e))
        .from(e);
  }

  /** The actions of the S3 protocol that a right consists of. */
  private static String action(StoreRequest.Right right) {
    return switch (right) {
      case LIST -> "s3:ListBucket";
      case READ -> "s3:GetObject";
      case WRITE -> "s3:PutObject and s3:DeleteObject";
    };
  }

  private Failure unanswered(String doing, SdkException e) {
    boolean io = false;
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      if (cause instanceof Failure known) {
        return known;
      }
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
    return ConnectionCause.failure(address, e);
  }
}
