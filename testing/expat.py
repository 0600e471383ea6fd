"""Reads XML documents with Python's expat, as the reference: a JSON list of texts in, for each its events or null where it is refused."""
import json
import sys
from xml.parsers import expat


def events(text):
    found = []
    parser = expat.ParserCreate()
    parser.buffer_text = True
    # Halves of pairs are no text.
    if any(0xD800 <= ord(letter) < 0xE000 for letter in text):
        return None
    parser.ordered_attributes = True
    parser.StartElementHandler = lambda name, attributes: found.append(["open", name, attributes])
    parser.EndElementHandler = lambda name: found.append(["close", name])
    parser.CharacterDataHandler = lambda data: found.append(["text", data])
    try:
        parser.Parse(text.encode("utf-8"), True)
    except expat.ExpatError:
        return None
    return found


json.dump([events(text) for text in json.load(sys.stdin)], sys.stdout)
