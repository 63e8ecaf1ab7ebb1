using System.Buffers;
using System.Text;
using System.Text.Json;
using System.Xml;
using Narbit.Adapters.Files;
using Sylvan.Data.Csv;

namespace Narbit.Adapters.Rest;

/// <summary>Reads replies, whatever they are written in, as JSON.</summary>
internal static class ReplyContent
{
    private const int MostCells = 4_000;

    /// <summary>The content as JSON.</summary>
    /// <exception cref="FormatException">It is not what it should be; the message says why.</exception>
    public static JsonDocument Read(byte[] content, ReplyForm form)
    {
        try
        {
            return form switch
            {
                ReplyForm.Xml => JsonDocument.Parse(FromXml(content), new JsonDocumentOptions { MaxDepth = 2 * XmlTree.Deepest }),
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
        var tree = XmlTree.Read(xml);
        var buffer = new ArrayBufferWriter<byte>(content.Length);
        // What is written is put together here alone, and read at once.
        using var json = new Utf8JsonWriter(buffer, new JsonWriterOptions { SkipValidation = true });
        tree.Write(json);
        json.Flush();
        return buffer.WrittenMemory;
    }

    private static ReadOnlyMemory<byte> FromCsv(byte[] content)
    {
        using var text = new StreamReader(new MemoryStream(content), Encoding.UTF8, detectEncodingFromByteOrderMarks: true);
        using var bounded = new WidthReader(text, null, MostCells);
        var options = new CsvDataReaderOptions
        {
            HasHeaders = true,
            Delimiter = bounded.Delimiter,
            MaxBufferSize = 1 << 20,
        };
        using var csv = CsvDataReader.Create(bounded, options);
        var names = Enumerable.Range(0, csv.FieldCount).Select(i => JsonEncodedText.Encode(csv.GetName(i).Trim())).ToArray();
        var buffer = new ArrayBufferWriter<byte>(content.Length);
        using var json = new Utf8JsonWriter(buffer);
        json.WriteStartArray();
        while (csv.Read())
        {
            if (IsBlank(csv))
                continue;
            json.WriteStartObject();
            for (var i = 0; i < Math.Min(names.Length, csv.RowFieldCount); i++)
                json.WriteString(names[i], csv.GetFieldSpan(i));
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.Flush();
        return buffer.WrittenMemory;
    }

    // A line without anything on it is no record.
    private static bool IsBlank(CsvDataReader csv)
    {
        for (var i = 0; i < csv.RowFieldCount; i++)
            if (!csv.GetFieldSpan(i).IsEmpty)
                return false;
        return true;
    }
}
