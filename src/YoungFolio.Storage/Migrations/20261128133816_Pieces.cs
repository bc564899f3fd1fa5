using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace YoungFolio.Storage.Migrations
{
    /// <inheritdoc />
    public partial class Pieces : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            // Made anew: what there is is taken over, each content in pieces of 512 KiB.
            migrationBuilder.Sql("""ALTER TABLE "Blobs" RENAME TO "BlobsBefore";""");

            migrationBuilder.CreateTable(
                name: "Blobs",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Hash = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Blobs", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "BlobPieces",
                columns: table => new
                {
                    BlobId = table.Column<int>(type: "INTEGER", nullable: false),
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    Bytes = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_BlobPieces", x => new { x.BlobId, x.Number });
                    table.ForeignKey(
                        name: "FK_BlobPieces_Blobs_BlobId",
                        column: x => x.BlobId,
                        principalTable: "Blobs",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.Sql("""
                INSERT INTO "Blobs" ("Hash") SELECT "Hash" FROM "BlobsBefore";
                WITH RECURSIVE "Places" ("Hash", "Number", "Length") AS (
                    SELECT "Hash", 0, LENGTH("Bytes") FROM "BlobsBefore" WHERE LENGTH("Bytes") > 0
                    UNION ALL
                    SELECT "Hash", "Number" + 1, "Length" FROM "Places" WHERE ("Number" + 1) * 524288 < "Length")
                INSERT INTO "BlobPieces" ("BlobId", "Number", "Bytes")
                    SELECT n."Id", p."Number", SUBSTR(b."Bytes", p."Number" * 524288 + 1, 524288)
                    FROM "Places" p JOIN "Blobs" n ON n."Hash" = p."Hash" JOIN "BlobsBefore" b ON b."Hash" = p."Hash";
                DROP TABLE "BlobsBefore";
                """);

            migrationBuilder.CreateIndex(
                name: "IX_Blobs_Hash",
                table: "Blobs",
                column: "Hash",
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder) =>
            throw new System.NotSupportedException("Contents in pieces can't be put together by the database: put a backup in place.");
    }
}
