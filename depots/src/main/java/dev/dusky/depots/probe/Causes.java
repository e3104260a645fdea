package dev.dusky.depots.probe;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.DepotAddress;
import java.util.List;
import java.util.function.Function;
import java.util.function.Supplier;

/** Turns a store's refusal into a failure: the first cause in the list that fits names it. */
public final class Causes {

  private final List<Cause> all;
  private final DepotAddress address;
  private final String bucket;
  private final Function<StoreRequest.Right, String> action;
  private final Supplier<String> credentials;

  /**
   * The causes of a kind of store, for one depot.
   *
   * @param all the causes; the last one fits every answer
   * @param bucket the bucket or container
   * @param action what must be granted for a right, in the store's terms
   * @param credentials the source of the credentials in words
   */
  public Causes(
      List<Cause> all,
      DepotAddress address,
      String bucket,
      Function<StoreRequest.Right, String> action,
      Supplier<String> credentials) {
    this.all = all;
    this.address = address;
    this.bucket = bucket;
    this.action = action;
    this.credentials = credentials;
  }

  /** The failure of a request. */
  public Failure failure(StoreRequest request, StoreAnswer answer) {
    Cause cause =
        all.stream().filter(c -> c.fits().test(answer, request)).findFirst().orElseThrow();
    String why = fill(cause.why(), request, answer);
    return Failure.depot(fill(cause.what(), request, answer))
        .because(
            why.isEmpty()
                ? request.doing() + ": " + answer.words()
                : why + " (" + answer.words() + ")")
        .hint(cause.hint().map(text -> fill(text, request, answer)));
  }

  private String fill(String text, StoreRequest request, StoreAnswer answer) {
    return text.replace("{depot}", address.name())
        .replace("{bucket}", bucket)
        .replace("{doing}", request.doing())
        .replace("{right}", request.right().words())
        .replace("{action}", action.apply(request.right()))
        .replace("{region}", answer.region().orElse(""))
        .replace("{location}", answer.location().map(l -> "to " + l).orElse("elsewhere"))
        .replace("{clock}", answer.skewWords())
        .replace("{credentials}", credentials.get());
  }
}
