using System.Buffers;
using System.Text;
using System.Text.Json;
using System.Xml;
using Sylvan.Data.Csv;

namespace Narbit.Adapters.Rest;

/// <summary>Reads replies, whatever they are written in, as JSON.</summary>
internal static class ReplyContent
{
    private const int DeepestXml = 64;

    /// <summary>The content as JSON.</summary>
    /// <exception cref="FormatException">It is not what it should be; the message says why.</exception>
    public static JsonDocument Read(byte[] content, ReplyForm form)
    {
        try
        {
            return form switch
            {
                ReplyForm.Xml => JsonDocument.Parse(FromXml(content), new JsonDocumentOptions { MaxDepth = 2 * DeepestXml }),
                ReplyForm.Csv => JsonDocument.Parse(FromCsv(content)),
                _ => JsonDocument.Parse(content),
            };
        }
        catch (Exception error) when (error is JsonException or XmlException or CsvFormatException or InvalidDataException)
        {
            throw new FormatException(error.Message.Split(". LineNumber")[0].TrimEnd('.'), error);
        }
    }

    // Entities and document types are refused by the reader: they could reach other files and grow without bounds.
    private static ReadOnlyMemory<byte> FromXml(byte[] content)
    {
        var settings = new XmlReaderSettings
        {
            DtdProcessing = DtdProcessing.Prohibit,
            XmlResolver = null,
            IgnoreComments = true,
            IgnoreProcessingInstructions = true,
            IgnoreWhitespace = true,
        };
        using var xml = XmlReader.Create(new MemoryStream(content), settings);
        xml.MoveToContent();
        var buffer = new ArrayBufferWriter<byte>(content.Length);
        // What is written is put together here alone, and read at once.
        using var json = new Utf8JsonWriter(buffer, new JsonWriterOptions { SkipValidation = true });
        var names = new Names();
        json.WriteStartObject();
        json.WritePropertyName(names.Of(xml.LocalName));
        Element.Read(xml, names, 0).Write(json);
        json.WriteEndObject();
        json.Flush();
        return buffer.WrittenMemory;
    }

    private static ReadOnlyMemory<byte> FromCsv(byte[] content)
    {
        using var text = new StreamReader(new MemoryStream(content), Encoding.UTF8, detectEncodingFromByteOrderMarks: true);
        using var csv = CsvDataReader.Create(text, new CsvDataReaderOptions { HasHeaders = true, MaxBufferSize = 1 << 20 });
        var names = Enumerable.Range(0, csv.FieldCount).Select(i => JsonEncodedText.Encode(csv.GetName(i).Trim())).ToArray();
        var buffer = new ArrayBufferWriter<byte>(content.Length);
        using var json = new Utf8JsonWriter(buffer);
        json.WriteStartArray();
        while (csv.Read())
        {
            json.WriteStartObject();
            for (var i = 0; i < Math.Min(names.Length, csv.RowFieldCount); i++)
                json.WriteString(names[i], csv.GetFieldSpan(i));
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.Flush();
        return buffer.WrittenMemory;
    }

    /// <summary>The names of a reply, each put into JSON's form once.</summary>
    private sealed class Names
    {
        private readonly Dictionary<string, JsonEncodedText> _elements = new(StringComparer.Ordinal);
        private readonly Dictionary<string, JsonEncodedText> _attributes = new(StringComparer.Ordinal);

        public JsonEncodedText Of(string element) => Known(_elements, element, "");

        public JsonEncodedText OfAttribute(string attribute) => Known(_attributes, attribute, "@");

        private static JsonEncodedText Known(Dictionary<string, JsonEncodedText> known, string name, string before)
        {
            if (!known.TryGetValue(name, out var encoded))
                known[name] = encoded = JsonEncodedText.Encode(before + name);
            return encoded;
        }
    }

    /// <summary>
    /// An element: its text alone, or its attributes and elements by name, in the order in which the names came. Elements of one name are
    /// a chain, so that a reply of many small ones needs no list for each.
    /// </summary>
    private sealed class Element
    {
        private List<(JsonEncodedText Name, string Text)>? _attributes;
        private List<Chain>? _elements;
        private string _text = "";
        private Element? _next;

        public static Element Read(XmlReader xml, Names names, int depth)
        {
            if (depth > DeepestXml)
                throw new InvalidDataException($"Its elements are nested more than {DeepestXml} deep.");
            var element = new Element();
            var isEmpty = xml.IsEmptyElement;
            while (xml.MoveToNextAttribute())
                if (xml.Prefix != "xmlns" && xml.LocalName != "xmlns")
                    (element._attributes ??= []).Add((names.OfAttribute(xml.LocalName), xml.Value));
            if (isEmpty)
                return element;
            while (xml.Read() && xml.NodeType != XmlNodeType.EndElement)
                if (xml.NodeType == XmlNodeType.Element)
                    element.Add(names.Of(xml.LocalName), Read(xml, names, depth + 1));
                else if (xml.NodeType is XmlNodeType.Text or XmlNodeType.CDATA)
                    element._text += xml.Value;
            return element;
        }

        public void Write(Utf8JsonWriter json)
        {
            if (_attributes is null && _elements is null)
            {
                json.WriteStringValue(_text);
                return;
            }

            json.WriteStartObject();
            foreach (var (name, text) in _attributes ?? [])
                json.WriteString(name, text);
            foreach (var elements in _elements ?? [])
                WriteAll(json, elements);
            if (_text.Length > 0)
                json.WriteString("#text", _text);
            json.WriteEndObject();
        }

        private static void WriteAll(Utf8JsonWriter json, Chain elements)
        {
            json.WritePropertyName(elements.Name);
            if (elements.First._next is null)
            {
                elements.First.Write(json);
                return;
            }

            json.WriteStartArray();
            for (var element = elements.First; element is not null; element = element._next)
                element.Write(json);
            json.WriteEndArray();
        }

        private void Add(JsonEncodedText name, Element element)
        {
            _elements ??= [];
            foreach (var chain in _elements)
                if (chain.Name.Equals(name))
                {
                    chain.Last._next = element;
                    chain.Last = element;
                    return;
                }

            _elements.Add(
                new Chain
                {
                    Name = name,
                    First = element,
                    Last = element,
                }
            );
        }

        private sealed class Chain
        {
            public required JsonEncodedText Name { get; init; }

            public required Element First { get; init; }

            public required Element Last { get; set; }
        }
    }
}
