using System.Globalization;
using System.Net;
using System.Text;
using System.Text.Json.Serialization;
using Narbit.Core.Mismatches;

namespace Narbit.Core.Telling;

/// <summary>A message as it is sent: a text, and the same as HTML.</summary>
public sealed record Message(string Subject, string Text, string Html);
