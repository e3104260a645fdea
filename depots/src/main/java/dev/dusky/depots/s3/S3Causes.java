package dev.dusky.depots;

import dev.dusky.core.failure.Hint;
import dev.dusky.core.failure.Invocation;
import java.util.List;
import java.util.function.BiPredicate;

/**
 * Why a request was refused, and what to do: the first row of {@link #ALL} that fits an answer
 * names it. In the texts {@code {depot}}, {@code {bucket}}, {@code {doing}}, {@code {right}},
 * {@code {region}}, {@code {location}} and {@code {clock}} represent what they say; the server's
 * own words are always added to the reason.
 *
 * @param fits whether an answer to a request that needs a right has this cause
 * @param what the headline
 * @param why the reason, or an empty string if the answer itself is the reason
 * @param hint what to do
 */
record S3Cause(BiPredicate<S3Answer, S3Request> fits, String what, String why, Hint hint) {

  private static final String FAILED = "{doing} in depot {depot} failed";

  private static final Invocation PROBE = Invocation.of("probe", "{depot}");

  private S3Cause(BiPredicate<S3Answer, S3Request> fits, String what, String why, String hint) {
    this(fits, what, why, Hint.of(hint));
  }

  static final List<S3Cause> ALL =
      List.of(
          new S3Cause(
              (a, r) ->
                  a.region().isPresent()
                      && (a.status() == 301 || a.status() == 307 || isRegional(a)),
              "Bucket '{bucket}' of depot {depot} is in another region",
              "the region is {region}",
              "Set region: {region} at the depot"),
          new S3Cause(
              (a, r) -> isRegional(a),
              "Bucket '{bucket}' of depot {depot} is in another region",
              "",
              "Set region: at the depot to the region of the bucket"),
          new S3Cause(
              (a, r) -> a.status() / 100 == 3 && !a.is("NotModified"),
              "The endpoint of depot {depot} redirects {location}",
              "",
              "Set endpoint: to the address of the S3 service itself"),
          new S3Cause(
              (a, r) -> a.plain(),
              "The endpoint of depot {depot} expects TLS",
              "http:// was sent to an https port",
              "Write the endpoint with https://"),
          new S3Cause(
              (a, r) -> a.html() && a.status() < 500,
              "The endpoint of depot {depot} does not speak S3",
              "it answered with a web page",
              "Set endpoint: to the port of the S3 service, not to its console or to a gateway"),
          new S3Cause(
              (a, r) -> a.is("RequestTimeTooSkewed", "RequestInTheFuture", "RequestExpired"),
              "The clock of this machine is wrong",
              "{clock}",
              "Set the clock, for example with NTP, and run again"),
          new S3Cause(
              (a, r) -> a.is("ExpiredToken", "ExpiredTokenException", "TokenRefreshRequired"),
              "The credentials of depot {depot} have expired",
              "",
              "Get new credentials, and update access-key and secret-key of the depot"),
          new S3Cause(
              (a, r) -> a.is("InvalidToken", "InvalidSecurity", "InvalidClientTokenId"),
              "Depot {depot} does not accept the credentials",
              "",
              "Temporary keys need their session token; use keys without one, or new ones"),
          new S3Cause(
              (a, r) -> a.is("InvalidAccessKeyId"),
              "Depot {depot} does not know the access key",
              "",
              "Check access-key of the depot, and that it belongs to this endpoint"),
          new S3Cause(
              (a, r) -> a.is("SignatureDoesNotMatch"),
              "Depot {depot} does not accept the secret key",
              "",
              "Check secret-key of the depot, for blanks at its ends too"),
          new S3Cause(
              (a, r) -> a.is("InvalidObjectState"),
              FAILED,
              "the object is in an archive class and cannot be read",
              "Restore the object in the store, then run again"),
          new S3Cause(
              (a, r) -> a.code().startsWith("KMS") || a.status() / 100 == 4 && a.mentions("kms"),
              FAILED,
              "the key service that encrypts the bucket refuses",
              "Allow the depot's access key to use the bucket's encryption key, or enable that key"),
          new S3Cause(
              (a, r) -> a.is("NoSuchBucket"),
              "Depot {depot} has no bucket '{bucket}'",
              "",
              "Create the bucket, or correct at: of the depot"),
          new S3Cause(
              (a, r) -> a.is("InvalidBucketName"),
              "'{bucket}' of depot {depot} is not a valid bucket name",
              "",
              "Correct at: of the depot; it is s3://bucket/prefix"),
          new S3Cause(
              (a, r) -> a.is("NoSuchKey"),
              FAILED,
              "the object no longer exists",
              "It may have been removed meanwhile. Run again"),
          new S3Cause(
              (a, r) -> a.is("NoSuchUpload"),
              FAILED,
              "the store has dropped the unfinished upload",
              "Stage the file again"),
          new S3Cause(
              (a, r) ->
                  r.right() == S3Request.Right.READ && (a.status() == 412 || a.status() == 416),
              "{doing} in depot {depot} stopped",
              "the object changed since it was listed",
              "It was rolled back. Run again"),
          new S3Cause(
              (a, r) -> a.is("ConditionalRequestConflict", "OperationAborted"),
              FAILED,
              "another request changes the same object",
              "Run again"),
          new S3Cause(
              (a, r) -> a.is("BadDigest", "InvalidDigest", "XAmzContentSHA256Mismatch"),
              FAILED,
              "the bytes changed on their way to the store",
              "Run again; if it happens again, check the network between this machine and the"
                  + " endpoint"),
          new S3Cause(
              (a, r) -> a.is("EntityTooLarge"),
              FAILED,
              "the object is larger than the store allows",
              "Split the file"),
          new S3Cause(
              (a, r) ->
                  a.status() == 507
                      || a.is("QuotaExceeded", "InsufficientCapacity")
                      || a.mentions("storage full")
                      || a.mentions("storagefull"),
              "The store of depot {depot} is full",
              "",
              "Make room in the store or raise its quota, then run again"),
          new S3Cause(
              (a, r) -> a.is("AccountProblem", "AllAccessDisabled", "NotSignedUp", "UserSuspended"),
              "The store has disabled the account of depot {depot}",
              "",
              "Ask the operator of the store"),
          new S3Cause(
              (a, r) -> a.status() == 407,
              "The proxy for depot {depot} asks for a login",
              "",
              "Give user and password of the proxy in HTTPS_PROXY or HTTP_PROXY"),
          new S3Cause(
              (a, r) -> a.is("AccessDenied") && !r.signed(),
              "Depot {depot} has no keys, and the bucket is not public",
              "",
              "Add access-key and secret-key to the depot"),
          new S3Cause(
              (a, r) -> a.is("AccessDenied"),
              "Depot {depot} denies the right to {right}",
              "",
              "Grant the depot's access key {action} on bucket '{bucket}'"),
          new S3Cause(
              (a, r) -> a.status() == 403 && a.code().isEmpty() || a.is("403", "Forbidden"),
              "Depot {depot} refuses to {right}",
              "the answer names no reason; it may be a missing right, expired keys or the clock",
              Hint.of("Run {}, which names the reason if the store gives one", PROBE)),
          new S3Cause(
              (a, r) -> a.status() == 403 || a.status() == 401,
              "Depot {depot} refuses to {right}",
              "",
              Hint.of("Correct what the store names, then run {}", PROBE)),
          new S3Cause(
              (a, r) ->
                  a.status() == 429
                      || a.status() >= 500 && a.status() != 501
                      || a.is("RequestTimeout", "SlowDown"),
              FAILED,
              "after several tries",
              "Unfinished work was rolled back. Run again when the endpoint is available"),
          new S3Cause(
              (a, r) -> a.status() == 405 || a.status() == 501,
              FAILED,
              "the endpoint does not offer this operation",
              "Check that endpoint: of the depot is an S3 service"),
          new S3Cause(
              (a, r) -> a.status() == 404,
              "The endpoint of depot {depot} does not speak S3",
              "it does not know the path of the bucket",
              "Set endpoint: to the address of the S3 service, without a path"),
          new S3Cause(
              (a, r) -> true,
              FAILED,
              "the endpoint rejects the request",
              "Correct what the store names; a retry without a change fails again"));

  private static boolean isRegional(S3Answer answer) {
    return answer.is(
        "PermanentRedirect",
        "TemporaryRedirect",
        "AuthorizationHeaderMalformed",
        "IllegalLocationConstraintException",
        "IncorrectEndpoint");
  }

  /** The first cause that fits. */
  static S3Cause of(S3Answer answer, S3Request request) {
    return ALL.stream().filter(c -> c.fits.test(answer, request)).findFirst().orElseThrow();
  }
}
