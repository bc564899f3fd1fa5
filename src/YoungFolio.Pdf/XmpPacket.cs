using System.Text;
using System.Xml.Linq;

namespace YoungFolio.Pdf;

/// <summary>
/// What a PDF says of itself as an XMP packet (ISO 16684-1), which archival files carry (ISO 19005-2, 6.6). It says the same as the file's
/// information dictionary, and to which part of the standard the file keeps.
/// </summary>
internal static class XmpPacket
{
    private static readonly XNamespace s_meta = "adobe:ns:meta/";
    private static readonly XNamespace s_rdf = "http://www.w3.org/1999/02/22-rdf-syntax-ns#";
    private static readonly XNamespace s_dc = "http://purl.org/dc/elements/1.1/";
    private static readonly XNamespace s_pdf = "http://ns.adobe.com/pdf/1.3/";
    private static readonly XNamespace s_pdfuaid = "http://www.aiim.org/pdfua/ns/id/";
    private static readonly XNamespace s_pdfaid = "http://www.aiim.org/pdfa/ns/id/";

    /// <summary>The packet.</summary>
    /// <param name="metadata">Title, author and language.</param>
    /// <param name="producer">What made the file.</param>
    /// <param name="conformance">Part and level of the archival standard, such as 2 and U; null: the file can't say that it keeps to it.</param>
    /// <param name="isAccessible">Whether it keeps to the standard of accessible files.</param>
    public static byte[] Of(PdfMetadata metadata, string producer, (int Part, char Level)? conformance, bool isAccessible)
    {
        var description = new XElement(s_rdf + "Description",
            new XAttribute(s_rdf + "about", ""),
            new XAttribute(XNamespace.Xmlns + "dc", s_dc),
            new XAttribute(XNamespace.Xmlns + "pdf", s_pdf),
            new XAttribute(XNamespace.Xmlns + "pdfaid", s_pdfaid),
            new XElement(s_dc + "format", "application/pdf"));
        if (metadata.Title.Length > 0)
        {
            description.Add(new XElement(s_dc + "title", new XElement(s_rdf + "Alt", new XElement(s_rdf + "li", new XAttribute(XNamespace.Xml + "lang", "x-default"), Allowed(metadata.Title)))));
        }

        if (metadata.Author.Length > 0)
        {
            // One entry for all, since the information dictionary has one, too (6.6.2.3.2).
            description.Add(new XElement(s_dc + "creator", new XElement(s_rdf + "Seq", new XElement(s_rdf + "li", Allowed(metadata.Author)))));
        }

        if (metadata.Language.Length > 0)
        {
            description.Add(new XElement(s_dc + "language", new XElement(s_rdf + "Bag", new XElement(s_rdf + "li", metadata.Language))));
        }

        description.Add(new XElement(s_pdf + "Producer", producer));
        if (conformance is var (part, level))
        {
            description.Add(new XElement(s_pdfaid + "part", part), new XElement(s_pdfaid + "conformance", level.ToString()));
        }

        var descriptions = new List<XElement> { description };
        if (isAccessible)
        {
            description.Add(new XAttribute(XNamespace.Xmlns + "pdfuaid", s_pdfuaid), new XElement(s_pdfuaid + "part", 1));
            if (conformance is not null)
            {
                descriptions.Add(Extension());
            }
        }

        var packet = new XElement(s_meta + "xmpmeta", new XAttribute(XNamespace.Xmlns + "x", s_meta), new XElement(s_rdf + "RDF", new XAttribute(XNamespace.Xmlns + "rdf", s_rdf), descriptions));
        return Encoding.UTF8.GetBytes($"<?xpacket begin=\"\uFEFF\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?>\n{packet}\n<?xpacket end=\"r\"?>");
    }

    // Archival files explain what isn't in the standard's own list (ISO 19005-2, 6.6.2.3.3).
    private static XElement Extension()
    {
        XNamespace extension = "http://www.aiim.org/pdfa/ns/extension/";
        XNamespace schema = "http://www.aiim.org/pdfa/ns/schema#";
        XNamespace property = "http://www.aiim.org/pdfa/ns/property#";
        XAttribute resource = new(s_rdf + "parseType", "Resource");
        return new XElement(s_rdf + "Description",
            new XAttribute(s_rdf + "about", ""),
            new XAttribute(XNamespace.Xmlns + "pdfaExtension", extension),
            new XAttribute(XNamespace.Xmlns + "pdfaSchema", schema),
            new XAttribute(XNamespace.Xmlns + "pdfaProperty", property),
            new XElement(extension + "schemas", new XElement(s_rdf + "Bag", new XElement(s_rdf + "li", resource,
                new XElement(schema + "schema", "Universal accessibility"),
                new XElement(schema + "namespaceURI", s_pdfuaid.NamespaceName),
                new XElement(schema + "prefix", "pdfuaid"),
                new XElement(schema + "property", new XElement(s_rdf + "Seq", new XElement(s_rdf + "li", resource,
                    new XElement(property + "name", "part"),
                    new XElement(property + "valueType", "Integer"),
                    new XElement(property + "category", "internal"),
                    new XElement(property + "description", "The part of ISO 14289 that the file keeps to"))))))));
    }

    // Signs that XML doesn't know can't be said.
    private static string Allowed(string text) => new([.. text.Where(System.Xml.XmlConvert.IsXmlChar)]);
}
