package dev.dusky.app.probe;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.policy.AccessPolicy;
import java.util.ArrayList;
import java.util.List;

/** The smallest policies of access that the feeds of a configuration need. */
public final class NeededPolicies {

  /**
   * A policy.
   *
   * @param what what it is and for whom, in a line
   * @param text the policy, in the store's form
   */
  public record Policy(String what, String text) {}

  private NeededPolicies() {}

  /**
   * The policies of the depots that have such.
   *
   * @param names the depots; all that have policies if empty
   * @param staging whether files are staged there as well
   */
  public static List<Policy> of(Workspace workspace, List<String> names, boolean staging) {
    Configuration configuration = workspace.configuration();
    List<Policy> policies = new ArrayList<>();
    for (String name : names.isEmpty() ? configuration.depots().keySet() : names) {
      DepotAddress address = configuration.depot(name);
      AccessPolicy.of(address, DepotUses.of(configuration, address), staging)
          .ifPresentOrElse(
              policy -> policies.add(new Policy(policy.what(), policy.text())),
              () -> {
                if (!names.isEmpty()) {
                  throw Failure.usage("Depot " + name + " has no policy")
                      .because(address + " grants rights in other ways")
                      .hint("Run it for depots in s3:// or azure://");
                }
              });
    }
    return policies;
  }
}
