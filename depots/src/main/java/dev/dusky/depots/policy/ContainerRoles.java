package dev.dusky.depots.policy;

import dev.dusky.depots.address.DepotAddress;

/** The assignment of the smallest of Azure's usual roles that has the rights. */
final class ContainerRoles {

  private ContainerRoles() {}

  static AccessPolicy of(DepotAddress address, AccessRights rights) {
    String[] place = address.at().substring("azure://".length()).split("/", 3);
    boolean writes = !rights.write().isEmpty() || !rights.remove().isEmpty();
    return new AccessPolicy(
        "role assignment for the identity of depot %s (%s); roles are for whole containers"
            .formatted(address.name(), address.credentials().words()),
        """
        {
          "roleDefinitionName": "%s",
          "scope": "/subscriptions/SUBSCRIPTION/resourceGroups/GROUP/providers\
        /Microsoft.Storage/storageAccounts/%s/blobServices/default/containers/%s"
        }"""
            .formatted(
                writes ? "Storage Blob Data Contributor" : "Storage Blob Data Reader",
                place[0],
                place[1]));
  }
}
