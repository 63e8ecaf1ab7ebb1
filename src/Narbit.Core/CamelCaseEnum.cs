using System.Text.Json;
using System.Text.Json.Serialization;

namespace Narbit.Core;

/// <summary>
/// Writes an enum as a camelCase word and reads nothing but such words, so that documents stay legible and numbers never pass for names.
/// </summary>
/// <typeparam name="T">The enum.</typeparam>
public sealed class CamelCaseEnum<T>() : JsonStringEnumConverter<T>(JsonNamingPolicy.CamelCase, allowIntegerValues: false)
    where T : struct, Enum;
