package dev.dusky.depots.s3;

import dev.dusky.core.failure.Hint;
import dev.dusky.core.failure.Invocation;
import dev.dusky.depots.probe.Cause;
import dev.dusky.depots.probe.StoreAnswer;
import dev.dusky.depots.probe.StoreRequest;
import java.util.List;

/** The refusals of stores that speak the S3 protocol, the most particular first. */
final class S3Causes {

  private static final String FAILED = "{doing} in depot {depot} failed";

  private static final Invocation PROBE = Invocation.of("probe", "{depot}");

  /** The causes; the last one fits every answer. */
  static final List<Cause> ALL =
      List.of(
          Cause.of(
              "a region is named, with status 301 or 307, or PermanentRedirect, AuthorizationHeaderMalformed, IllegalLocationConstraintException",
              (a, r) ->
                  a.region().isPresent()
                      && (a.status() == 301 || a.status() == 307 || isRegional(a)),
              "Bucket '{bucket}' of depot {depot} is in another region",
              "the region is {region}",
              "Set region: {region} at the depot"),
          Cause.of(
              "PermanentRedirect, AuthorizationHeaderMalformed and others, without a region",
              (a, r) -> isRegional(a),
              "Bucket '{bucket}' of depot {depot} is in another region",
              "",
              "Set region: at the depot to the region of the bucket"),
          Cause.of(
              "a redirect (status 300 to 399)",
              (a, r) -> a.status() / 100 == 3 && !a.is("NotModified"),
              "The endpoint of depot {depot} redirects {location}",
              "",
              "Set endpoint: to the address of the S3 service itself"),
          Cause.of(
              "a complaint that HTTP was sent to a port of HTTPS",
              (a, r) -> a.plain(),
              "The endpoint of depot {depot} expects TLS",
              "http:// was sent to an https port",
              "Write the endpoint with https://"),
          Cause.of(
              "a web page",
              (a, r) -> a.html() && a.status() < 500,
              "The endpoint of depot {depot} does not speak S3",
              "it answered with a web page",
              "Set endpoint: to the port of the S3 service, not to its console or to a gateway"),
          Cause.of(
              "RequestTimeTooSkewed, RequestInTheFuture, RequestExpired",
              (a, r) -> a.is("RequestTimeTooSkewed", "RequestInTheFuture", "RequestExpired"),
              "The clock of this machine is wrong",
              "{clock}",
              "Set the clock, for example with NTP, and run again"),
          Cause.of(
              "ExpiredToken, ExpiredTokenException, TokenRefreshRequired",
              (a, r) -> a.is("ExpiredToken", "ExpiredTokenException", "TokenRefreshRequired"),
              "The credentials of depot {depot} have expired",
              "",
              "Get new credentials, and update {credentials}"),
          Cause.of(
              "InvalidToken, InvalidSecurity, InvalidClientTokenId",
              (a, r) -> a.is("InvalidToken", "InvalidSecurity", "InvalidClientTokenId"),
              "Depot {depot} does not accept the credentials",
              "",
              "Temporary keys need their session-token beside them; check {credentials}"),
          Cause.of(
              "InvalidAccessKeyId",
              (a, r) -> a.is("InvalidAccessKeyId"),
              "Depot {depot} does not know the access key",
              "",
              "Check {credentials}, and that the access key belongs to this endpoint. A temporary key"
                  + " needs its session-token"),
          Cause.of(
              "SignatureDoesNotMatch",
              (a, r) -> a.is("SignatureDoesNotMatch"),
              "Depot {depot} does not accept the secret key",
              "",
              "Check {credentials}: the secret key, for blanks at its ends too"),
          Cause.of(
              "InvalidObjectState",
              (a, r) -> a.is("InvalidObjectState"),
              FAILED,
              "the object is in an archive class and cannot be read",
              "Restore the object in the store, then run again"),
          Cause.of(
              "a code that begins with KMS, or a refusal that mentions KMS",
              (a, r) -> a.code().startsWith("KMS") || a.status() / 100 == 4 && a.mentions("kms"),
              FAILED,
              "the key service that encrypts the bucket refuses",
              "Allow {credentials} to use the bucket's encryption key, or enable that key"),
          Cause.of(
              "NoSuchBucket",
              (a, r) -> a.is("NoSuchBucket"),
              "Depot {depot} has no bucket '{bucket}'",
              "",
              "Create the bucket, or correct at: of the depot"),
          Cause.of(
              "InvalidBucketName",
              (a, r) -> a.is("InvalidBucketName"),
              "'{bucket}' of depot {depot} is not a valid bucket name",
              "",
              "Correct at: of the depot; it is s3://bucket/prefix"),
          Cause.of(
              "NoSuchKey",
              (a, r) -> a.is("NoSuchKey"),
              FAILED,
              "the object no longer exists",
              "It may have been removed meanwhile. Run again"),
          Cause.of(
              "NoSuchUpload",
              (a, r) -> a.is("NoSuchUpload"),
              FAILED,
              "the store has dropped the unfinished upload",
              "Stage the file again"),
          Cause.of(
              "status 412 or 416 to a read",
              (a, r) ->
                  r.right() == StoreRequest.Right.READ && (a.status() == 412 || a.status() == 416),
              "{doing} in depot {depot} stopped",
              "the object changed since it was listed",
              "It was rolled back. Run again"),
          Cause.of(
              "ConditionalRequestConflict, OperationAborted",
              (a, r) -> a.is("ConditionalRequestConflict", "OperationAborted"),
              FAILED,
              "another request changes the same object",
              "Run again"),
          Cause.of(
              "BadDigest, InvalidDigest, XAmzContentSHA256Mismatch",
              (a, r) -> a.is("BadDigest", "InvalidDigest", "XAmzContentSHA256Mismatch"),
              FAILED,
              "the bytes changed on their way to the store",
              "Run again; if it happens again, check the network between this machine and the"
                  + " endpoint"),
          Cause.of(
              "EntityTooLarge",
              (a, r) -> a.is("EntityTooLarge"),
              FAILED,
              "the object is larger than the store allows",
              "Split the file"),
          Cause.of(
              "status 507, QuotaExceeded, InsufficientCapacity",
              (a, r) ->
                  a.status() == 507
                      || a.is("QuotaExceeded", "InsufficientCapacity")
                      || a.mentions("storage full")
                      || a.mentions("storagefull"),
              "The store of depot {depot} is full",
              "",
              "Make room in the store or raise its quota, then run again"),
          Cause.of(
              "AccountProblem, AllAccessDisabled, NotSignedUp, UserSuspended",
              (a, r) -> a.is("AccountProblem", "AllAccessDisabled", "NotSignedUp", "UserSuspended"),
              "The store has disabled the account of depot {depot}",
              "",
              "Ask the operator of the store"),
          Cause.of(
              "status 407",
              (a, r) -> a.status() == 407,
              "The proxy for depot {depot} asks for a login",
              "",
              "Give user and password under proxy: of the depot, or in HTTPS_PROXY or HTTP_PROXY"),
          Cause.of(
              "AccessDenied, to a request without credentials",
              (a, r) -> a.is("AccessDenied") && !r.signed(),
              "Depot {depot} is read without credentials, and the bucket is not public",
              "",
              "Remove credentials: anonymous, or give access-key and secret-key"),
          Cause.of(
              "AccessDenied",
              (a, r) -> a.is("AccessDenied"),
              "Depot {depot} denies the right to {right}",
              "",
              "Grant {credentials} {action} on bucket '{bucket}'"),
          new Cause(
              "status 403 without a code",
              (a, r) -> a.status() == 403 && a.code().isEmpty() || a.is("403", "Forbidden"),
              "Depot {depot} refuses to {right}",
              "the answer names no reason; it may be a missing right, expired keys or the clock",
              Hint.of("Run {}, which names the reason if the store gives one", PROBE)),
          new Cause(
              "any other status 401 or 403",
              (a, r) -> a.status() == 403 || a.status() == 401,
              "Depot {depot} refuses to {right}",
              "",
              Hint.of("Correct what the store names, then run {}", PROBE)),
          Cause.of(
              "status 429, any status from 500 but 501, SlowDown, RequestTimeout",
              (a, r) ->
                  a.status() == 429
                      || a.status() >= 500 && a.status() != 501
                      || a.is("RequestTimeout", "SlowDown"),
              FAILED,
              "after several tries",
              "Unfinished work was rolled back. Run again when the endpoint is available"),
          Cause.of(
              "status 405 or 501",
              (a, r) -> a.status() == 405 || a.status() == 501,
              FAILED,
              "the endpoint does not offer this operation",
              "Check that endpoint: of the depot is an S3 service"),
          Cause.of(
              "any other status 404",
              (a, r) -> a.status() == 404,
              "The endpoint of depot {depot} does not speak S3",
              "it does not know the path of the bucket",
              "Set endpoint: to the address of the S3 service, without a path"),
          Cause.of(
              "anything else",
              (a, r) -> true,
              FAILED,
              "the endpoint rejects the request",
              "Correct what the store names; a retry without a change fails again"));

  private static boolean isRegional(StoreAnswer answer) {
    return answer.is(
        "PermanentRedirect",
        "TemporaryRedirect",
        "AuthorizationHeaderMalformed",
        "IllegalLocationConstraintException",
        "IncorrectEndpoint");
  }

  private S3Causes() {}
}
