package dev.dusky.depots;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.services.s3.model.S3Exception;

/** Says which of endpoint, key, bucket or right is at fault when the S3 protocol fails. */
final class S3Failures {

  /** The right that a request needs. */
  enum Right {
    LIST("list the bucket"),
    READ("read objects"),
    WRITE("write objects");

    private final String words;

    Right(String words) {
      this.words = words;
    }
  }

  private final DepotAddress address;
  private final String bucket;

  S3Failures(DepotAddress address, String bucket) {
    this.address = address;
    this.bucket = bucket;
  }

  Failure of(String doing, Right right, SdkException e) {
    return (e instanceof S3Exception s3 ? answered(doing, right, s3) : unanswered(doing, e))
        .from(e);
  }

  private Failure answered(String doing, Right right, S3Exception e) {
    String depot = address.name();
    String code = e.awsErrorDetails() == null ? "" : e.awsErrorDetails().errorCode();
    if (e.statusCode() == 412) {
      return Failure.depot(doing + " in depot " + depot + " stopped")
          .because("the object changed since it was listed")
          .next("Nothing of it was kept. Run again");
    }
    return switch (code == null ? "" : code) {
      case "InvalidAccessKeyId" ->
          Failure.depot("Depot " + depot + " does not know the access key")
              .because(doing + " was answered with InvalidAccessKeyId")
              .next("Check access-key of the depot, and that it belongs to this endpoint");
      case "SignatureDoesNotMatch" ->
          Failure.depot("Depot " + depot + " does not accept the secret key")
              .because(doing + " was answered with SignatureDoesNotMatch")
              .next("Check secret-key of the depot, for blanks at its ends too");
      case "NoSuchBucket" ->
          Failure.depot("Depot " + depot + " has no bucket '" + bucket + "'")
              .because(doing + " was answered with NoSuchBucket")
              .next("Create the bucket, or correct at: of the depot");
      case "NoSuchKey" ->
          Failure.depot(doing + " in depot " + depot + " failed")
              .because("the object is no longer there")
              .next("It may have been removed meanwhile. Run again");
      default -> other(doing, right, e, code);
    };
  }

  private Failure other(String doing, Right right, S3Exception e, String code) {
    if (e.statusCode() == 403) {
      return Failure.depot("Depot " + address.name() + " denies the right to " + right.words)
          .because(doing + " in bucket '" + bucket + "' was answered with 403 " + code)
          .next("The keys are known, so grant them that right in the bucket's policy");
    }
    return Failure.depot(doing + " in depot " + address.name() + " failed")
        .because("the endpoint answered " + e.statusCode() + " " + code + " after several tries")
        .next("Nothing unfinished was kept. Run again when the endpoint is well");
  }

  private Failure unanswered(String doing, SdkException e) {
    Throwable cause = e;
    while (cause.getCause() != null) {
      cause = cause.getCause();
    }
    if (cause instanceof IOException io) {
      return unreachable(io);
    }
    return Failure.depot(doing + " in depot " + address.name() + " failed")
        .because(String.valueOf(e.getMessage()));
  }

  Failure unreachable(IOException cause) {
    String why =
        cause instanceof java.net.UnknownHostException
            ? "the host name cannot be resolved"
            : cause.getMessage() == null ? cause.getClass().getSimpleName() : cause.getMessage();
    return Failure.depot("Depot " + address.name() + " cannot be reached at " + address)
        .because(why)
        .next("Check endpoint of the depot, and that the service is running");
  }
}
