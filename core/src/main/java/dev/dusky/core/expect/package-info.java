/** Control information of senders: control totals, trailers, sidecar files and manifests. */
package dev.dusky.core.expect;
