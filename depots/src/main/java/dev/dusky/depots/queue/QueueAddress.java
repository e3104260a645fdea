package dev.dusky.depots.queue;

import dev.dusky.depots.address.DepotAddress;
import java.util.Optional;

/**
 * Where a queue is and how to get in.
 *
 * @param access credentials, region and connections, in the form that depots have; its place is
 *     {@code sqs://} with host and path of the queue's URL
 */
public record QueueAddress(DepotAddress access) {

  /** The queue's URL: that of its place, with the scheme of the endpoint if one is declared. */
  public String url() {
    String rest = access.at().substring("sqs://".length());
    boolean plain = access.endpoint().filter(e -> e.startsWith("http://")).isPresent();
    return (plain ? "http://" : "https://") + rest;
  }

  /** The region: the declared one, or the one in the name of the queue's host. */
  public Optional<String> region() {
    String host = access.at().substring("sqs://".length()).replaceFirst("/.*", "");
    return access
        .region()
        .or(
            () ->
                host.matches("sqs\\.[a-z0-9-]+\\..*")
                    ? Optional.of(host.split("\\.")[1])
                    : Optional.empty());
  }

  @Override
  public String toString() {
    return access.at();
  }
}
