package dev.dusky.depots.azure;

import dev.dusky.depots.probe.Cause;
import dev.dusky.depots.probe.StoreRequest;
import java.util.List;

/** The refusals of Azure's blob storage, the most particular first. */
final class AzureCauses {

  private static final String FAILED = "{doing} in depot {depot} failed";

  private AzureCauses() {}

  /** The causes; the last one fits every answer. */
  static final List<Cause> ALL =
      List.of(
          Cause.of(
              "a redirect (status 300 to 399)",
              (a, r) -> a.status() / 100 == 3 && a.status() != 304,
              "The endpoint of depot {depot} redirects {location}",
              "",
              "Set endpoint: to the address of the blob service itself"),
          Cause.of(
              "a web page",
              (a, r) -> a.html() && a.status() < 500,
              "The endpoint of depot {depot} does not speak the blob protocol",
              "it answered with a web page",
              "Set endpoint: to the blob service of the account, or remove it"),
          Cause.of(
              "AuthenticationFailed, and a clock that differs by more than 15 minutes",
              (a, r) ->
                  a.is("AuthenticationFailed")
                      && a.skew().filter(d -> Math.abs(d.toMinutes()) >= 15).isPresent(),
              "The clock of this machine is wrong",
              "{clock}",
              "Set the clock, for example with NTP, and run again"),
          Cause.of(
              "AuthenticationFailed, and the message mentions an expiry",
              (a, r) ->
                  a.is("AuthenticationFailed")
                      && (a.mentions("expir") || a.mentions("signed expiry")),
              "The credentials of depot {depot} have expired",
              "",
              "Get new credentials, and update {credentials}"),
          Cause.code(
              "Depot {depot} does not accept the credentials",
              "",
              "Check {credentials}: whether they belong to this account, and are whole",
              "AuthenticationFailed",
              "InvalidAuthenticationInfo"),
          Cause.code(
              "Depot {depot} is read without credentials, and the container is not public",
              "",
              "Remove credentials: anonymous, or give account-key or shared-access",
              "NoAuthenticationInformation",
              "PublicAccessNotPermitted"),
          Cause.code(
              "The account of depot {depot} does not accept keys",
              "",
              "Use credentials: default or instance, and grant that identity {action}",
              "KeyBasedAuthenticationNotPermitted"),
          Cause.code(
              "Depot {depot} denies access from this network",
              "",
              "Allow this machine's address in the account's network rules",
              "AuthorizationSourceIPMismatch",
              "IpAuthorizationError"),
          Cause.code(
              "Depot {depot} denies the right to {right}",
              "",
              "Grant {credentials} the role {action} on container '{bucket}', or renew the shared"
                  + " access with that permission",
              "AuthorizationPermissionMismatch",
              "AuthorizationFailure",
              "InsufficientAccountPermissions",
              "AuthorizationServiceMismatch",
              "AuthorizationResourceTypeMismatch"),
          Cause.code(
              "Depot {depot} has no container '{bucket}'",
              "",
              "Create the container, or correct at: of the depot",
              "ContainerNotFound"),
          Cause.code(
              "'{bucket}' of depot {depot} is not a valid container name",
              "",
              "Correct at: of the depot; it is azure://account/container/prefix",
              "InvalidResourceName"),
          Cause.code(
              "Container '{bucket}' of depot {depot} is being removed",
              "",
              "Wait until it is gone and create it again, or correct at: of the depot",
              "ContainerBeingDeleted"),
          Cause.code(
              "The store has disabled the account of depot {depot}",
              "",
              "Ask the owner of the account",
              "AccountIsDisabled"),
          Cause.code(
              FAILED,
              "the file no longer exists",
              "It may have been removed meanwhile. Run again",
              "BlobNotFound",
              "ResourceNotFound"),
          Cause.code(
              FAILED,
              "the file is in the archive tier and cannot be read",
              "Bring it back to an online tier in the store, then run again",
              "BlobArchived",
              "BlobBeingRehydrated"),
          Cause.code(
              FAILED,
              "another client holds a lease on the file",
              "Run again when the lease has ended",
              "LeaseIdMissing",
              "LeaseAlreadyPresent"),
          Cause.code(
              FAILED,
              "a policy of the container forbids changes",
              "Choose another container or prefix for what is written",
              "BlobImmutableDueToPolicy"),
          Cause.of(
              "status 412 or 416 to a read",
              (a, r) ->
                  r.right() == StoreRequest.Right.READ && (a.status() == 412 || a.status() == 416),
              "{doing} in depot {depot} stopped",
              "the file changed since it was listed",
              "It was rolled back. Run again"),
          Cause.code(
              FAILED,
              "the bytes changed on their way to the store",
              "Run again; if it happens again, check the network between this machine and the"
                  + " endpoint",
              "Md5Mismatch",
              "Crc64Mismatch"),
          Cause.code(
              FAILED,
              "the file is larger than the store allows",
              "Split the file",
              "RequestBodyTooLarge",
              "BlockCountExceedsLimit"),
          Cause.of(
              "status 407",
              (a, r) -> a.status() == 407,
              "The proxy for depot {depot} asks for a login",
              "",
              "Give user and password under proxy: of the depot"),
          Cause.of(
              "any other status 401 or 403",
              (a, r) -> a.status() == 403 || a.status() == 401,
              "Depot {depot} refuses to {right}",
              "",
              "Correct what the store names; {credentials} needs the role {action}"),
          Cause.of(
              "status 429, any status from 500, ServerBusy, OperationTimedOut",
              (a, r) -> a.status() == 429 || a.status() >= 500,
              FAILED,
              "after several tries",
              "Unfinished work was rolled back. Run again when the store is available"),
          Cause.of(
              "any other status 404",
              (a, r) -> a.status() == 404,
              "The endpoint of depot {depot} does not speak the blob protocol",
              "it does not know the path of the container",
              "Set endpoint: to the blob service of the account, or remove it"),
          Cause.of(
              "anything else",
              (a, r) -> true,
              FAILED,
              "the store rejects the request",
              "Correct what the store names; a retry without a change fails again"));
}
