/** What a place may be able to do beyond reading: each part by itself, handed out or not. */
package sharptally.core.place.part;
