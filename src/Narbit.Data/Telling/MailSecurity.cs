using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Telling;

/// <summary>How the way to a mail server is kept from others.</summary>
[JsonConverter(typeof(CamelCaseEnum<MailSecurity>))]
public enum MailSecurity
{
    /// <summary>TLS from the first byte, mostly at port 465.</summary>
    Tls,

    /// <summary>TLS once the server has greeted, mostly at port 587; without it nothing is sent.</summary>
    StartTls,

    /// <summary>Not at all; for a server on the same machine.</summary>
    None,
}
