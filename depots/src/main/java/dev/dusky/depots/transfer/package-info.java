/** What the transfers of all stores need: streams that resume, parts of files, digests. */
package dev.dusky.depots.transfer;
