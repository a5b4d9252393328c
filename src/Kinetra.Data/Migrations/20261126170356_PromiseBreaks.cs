using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kinetra.Data.Migrations
{
    /// <inheritdoc />
    public partial class PromiseBreaks : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "promise_breaks",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    show_id = table.Column<Guid>(type: "uuid", nullable: false),
                    promise = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    sentence = table.Column<string>(type: "text", nullable: false),
                    why = table.Column<string>(type: "text", nullable: false),
                    by_sound = table.Column<bool>(type: "boolean", nullable: false),
                    began = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    ended = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_promise_breaks", x => x.id);
                    table.ForeignKey(
                        name: "fk_promise_breaks_shows_show_id",
                        column: x => x.show_id,
                        principalTable: "shows",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_promise_breaks_show_id_began",
                table: "promise_breaks",
                columns: new[] { "show_id", "began" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "promise_breaks");
        }
    }
}
