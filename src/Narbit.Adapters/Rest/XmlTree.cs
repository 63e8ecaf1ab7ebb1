using System.Runtime.InteropServices;
using System.Text;
using System.Text.Json;
using System.Xml;

namespace Narbit.Adapters.Rest;

/// <summary>
/// An XML reply on its way to JSON: an element is its text alone, or its attributes (<c>@name</c>) and elements by name, in the order in
/// which the names came; several of one name are a list, and text beside them is <c>#text</c>. All elements stand in one list, since a
/// reply has very many small ones.
/// </summary>
internal sealed class XmlTree
{
    /// <summary>The deepest that elements may be nested.</summary>
    public const int Deepest = 64;

    private const int None = -1;

    // In pieces, so that a long reply moves nothing and needs no array that counts as large.
    private const int Piece = 1024;

    private readonly List<Node[]> _pieces = [];
    private int _count;
    private readonly Dictionary<string, int> _elements = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int> _attributes = new(StringComparer.Ordinal);
    private readonly List<JsonEncodedText> _names = [];

    // Of elements with very many names: by which each is found. Few have so many.
    private readonly Dictionary<(int Parent, int Name), int> _firsts = [];
    private const int Many = 24;

    private XmlTree() { }

    /// <summary>Reads a whole reply.</summary>
    /// <exception cref="XmlException">It is not well formed.</exception>
    /// <exception cref="InvalidDataException">It is nested too deep.</exception>
    public static XmlTree Read(XmlReader xml)
    {
        var tree = new XmlTree();
        xml.MoveToContent();
        tree.Read(xml, 0);
        return tree;
    }

    /// <summary>Writes it as an object with the outermost element.</summary>
    public void Write(Utf8JsonWriter json)
    {
        json.WriteStartObject();
        json.WritePropertyName(_names[At(0).Name]);
        WriteValue(json, 0);
        json.WriteEndObject();
    }

    private int Read(XmlReader xml, int depth)
    {
        if (depth > Deepest)
            throw new InvalidDataException($"Its elements are nested more than {Deepest} deep.");
        var element = Add(Name(_elements, xml.LocalName, ""), null);
        var isEmpty = xml.IsEmptyElement;
        StringBuilder? pieces = null;
        while (xml.MoveToNextAttribute())
            if (xml.Prefix != "xmlns" && xml.LocalName != "xmlns")
                Append(element, Add(Name(_attributes, xml.LocalName, "@"), xml.Value));
        if (isEmpty)
            return element;
        while (xml.Read() && xml.NodeType != XmlNodeType.EndElement)
            if (xml.NodeType == XmlNodeType.Element)
                Append(element, Read(xml, depth + 1));
            else if (xml.NodeType is XmlNodeType.Text or XmlNodeType.CDATA)
                AddText(element, xml.Value, ref pieces);
        if (pieces is not null)
            At(element).Text = pieces.ToString();
        return element;
    }

    // Text is nearly always in one piece.
    private void AddText(int element, string text, ref StringBuilder? pieces)
    {
        if (pieces is not null)
            pieces.Append(text);
        else if (At(element).Text is { } before)
            pieces = new StringBuilder(before).Append(text);
        else
            At(element).Text = text;
    }

    // Of several of one name only the first stands among its parent's; the others hang on to it.
    private void Append(int parent, int child)
    {
        ref var within = ref At(parent);
        if (Same(ref within, parent, At(child).Name) is var first && first != None)
        {
            ref var same = ref At(first);
            At(same.LastSame).NextSame = child;
            same.LastSame = child;
            return;
        }

        if (within.First == None)
            within.First = child;
        else
            At(within.Last).Next = child;
        within.Last = child;
        if (++within.Names == Many)
            for (var at = within.First; at != None; at = At(at).Next)
                _firsts[(parent, At(at).Name)] = at;
        else if (within.Names > Many)
            _firsts[(parent, At(child).Name)] = child;
    }

    private int Same(ref Node within, int parent, int name)
    {
        if (within.Names >= Many)
            return _firsts.GetValueOrDefault((parent, name), None);
        for (var at = within.First; at != None; at = At(at).Next)
            if (At(at).Name == name)
                return at;
        return None;
    }

    private void WriteValue(Utf8JsonWriter json, int at)
    {
        ref var node = ref At(at);
        if (node.First == None)
        {
            json.WriteStringValue(node.Text ?? "");
            return;
        }

        json.WriteStartObject();
        for (var child = node.First; child != None; child = At(child).Next)
            WriteNamed(json, child);
        if (node.Text is { Length: > 0 } text)
            json.WriteString("#text", text);
        json.WriteEndObject();
    }

    private void WriteNamed(Utf8JsonWriter json, int first)
    {
        json.WritePropertyName(_names[At(first).Name]);
        if (At(first).NextSame == None)
        {
            WriteValue(json, first);
            return;
        }

        json.WriteStartArray();
        for (var at = first; at != None; at = At(at).NextSame)
            WriteValue(json, at);
        json.WriteEndArray();
    }

    private int Add(int name, string? text)
    {
        var at = _count++;
        if (at / Piece == _pieces.Count)
            _pieces.Add(new Node[Piece]);
        At(at) = new Node
        {
            Name = name,
            Text = text,
            First = None,
            Next = None,
            NextSame = None,
            LastSame = at,
        };
        return at;
    }

    // Each name is put into JSON's form once.
    private int Name(Dictionary<string, int> known, string name, string before)
    {
        ref var at = ref CollectionsMarshal.GetValueRefOrAddDefault(known, name, out var isKnown);
        if (isKnown)
            return at;
        at = _names.Count;
        _names.Add(JsonEncodedText.Encode(before + name));
        return at;
    }

    private ref Node At(int place) => ref _pieces[place / Piece][place % Piece];

    private struct Node
    {
        public int Name;
        public string? Text;

        /// <summary>The first within it.</summary>
        public int First;

        /// <summary>The last within it that is the first of its name.</summary>
        public int Last;

        /// <summary>How many names there are within it.</summary>
        public int Names;

        /// <summary>The next of another name beside it.</summary>
        public int Next;

        /// <summary>The next of its own name.</summary>
        public int NextSame;

        /// <summary>Of the first of its name: the last one.</summary>
        public int LastSame;
    }
}
