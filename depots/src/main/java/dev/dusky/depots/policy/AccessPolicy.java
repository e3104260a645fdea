package dev.dusky.depots.policy;

import dev.dusky.core.probe.DepotUse;
import dev.dusky.depots.address.DepotAddress;
import java.util.Optional;

/**
 * The smallest policy that lets a depot be used as a configuration does.
 *
 * @param what what the text is, in a line
 * @param text the policy, in the store's form
 */
public record AccessPolicy(String what, String text) {

  /**
   * The policy of a depot; empty where rights are not granted by a policy, as in a directory.
   *
   * @param staging whether files are staged there from this machine as well
   */
  public static Optional<AccessPolicy> of(DepotAddress address, DepotUse use, boolean staging) {
    AccessRights rights = AccessRights.of(use, staging);
    return switch (address.scheme()) {
      case "s3" -> Optional.of(BucketPolicy.of(address, rights));
      case "azure" -> Optional.of(ContainerRoles.of(address, rights));
      default -> Optional.empty();
    };
  }
}
