package dev.dusky.depots.policy;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.probe.DepotUse;
import dev.dusky.depots.address.DepotAddress;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Policies grant what the use of a depot needs, and nothing besides. */
class AccessPolicyTest {

  private static final DepotUse.Reading DOCKETS =
      new DepotUse.Reading("dockets", FilePattern.of("in/*.csv"));

  private static String policy(String at, DepotUse use, boolean staging) {
    return AccessPolicy.of(DepotAddress.of("yard", at), use, staging).orElseThrow().text();
  }

  private static DepotUse reading(DepotUse.Reading... feeds) {
    return new DepotUse(List.of(feeds), List.of(), List.of(), List.of());
  }

  @Test
  void readingFeedsListAndGetBelowTheirPrefixesAlone() {
    String policy = policy("s3://intake/daily", reading(DOCKETS), false);
    assertTrue(policy.contains("\"s3:prefix\": [\"daily/in/*\"]"), policy);
    assertTrue(policy.contains("\"arn:aws:s3:::intake/daily/in/*\""), policy);
    for (String right : List.of("Put", "Delete", "Multipart")) {
      assertFalse(policy.contains(right), policy);
    }
  }

  @Test
  void archivesAndRejectsAddTheRightsToWriteAndRemove() {
    DepotUse use =
        new DepotUse(
            List.of(DOCKETS),
            List.of(new DepotUse.Writing("rejects dockets", "bad/")),
            List.of(new DepotUse.Moving("dockets", "in/", "done/")),
            List.of());
    String policy = policy("s3://intake", use, false);
    assertTrue(
        policy.contains("[\"arn:aws:s3:::intake/bad/*\", \"arn:aws:s3:::intake/done/in/*\"]"),
        policy);
    assertTrue(
        policy.contains(
            "[\"arn:aws:s3:::intake/bad/dusky-probe-*\", \"arn:aws:s3:::intake/done/in/dusky-probe-*\","
                + " \"arn:aws:s3:::intake/in/*\"]"),
        policy);
  }

  @Test
  void aPrefixWithinAnotherIsLeftOut() {
    AccessRights rights =
        AccessRights.of(
            reading(DOCKETS, new DepotUse.Reading("all", FilePattern.of("in**"))), false);
    assertEquals(List.of("in"), List.copyOf(rights.read()));
  }

  @Test
  void azureGetsTheSmallestRoleOnTheContainer() {
    assertTrue(
        policy("azure://wrenfold/intake/x", reading(DOCKETS), false).contains("Blob Data Reader"));
    String staging = policy("azure://wrenfold/intake/x", reading(DOCKETS), true);
    assertTrue(staging.contains("Blob Data Contributor"), staging);
    assertTrue(
        staging.contains("/storageAccounts/wrenfold/blobServices/default/containers/intake"),
        staging);
  }

  @Test
  void directoriesHaveNone() {
    assertEquals(
        Optional.empty(),
        AccessPolicy.of(DepotAddress.of("yard", "file:x"), reading(DOCKETS), true));
  }
}
