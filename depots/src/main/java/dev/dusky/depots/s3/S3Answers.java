package dev.dusky.depots.s3;

import dev.dusky.depots.probe.StoreAnswer;
import java.util.Optional;
import software.amazon.awssdk.awscore.exception.AwsErrorDetails;
import software.amazon.awssdk.http.SdkHttpResponse;
import software.amazon.awssdk.services.s3.model.S3Exception;

/** The answers that exceptions of the S3 protocol describe. */
final class S3Answers {

  private S3Answers() {}

  static StoreAnswer of(S3Exception e) {
    AwsErrorDetails details = e.awsErrorDetails();
    if (details == null) {
      return StoreAnswer.bare(e.statusCode());
    }
    Optional<SdkHttpResponse> response = Optional.ofNullable(details.sdkHttpResponse());
    return StoreAnswer.of(
        e.statusCode(),
        details.errorCode(),
        details.errorMessage(),
        response.map(S3ErrorBody::of).orElse(""),
        name -> response.flatMap(r -> r.firstMatchingHeader(name)));
  }
}
