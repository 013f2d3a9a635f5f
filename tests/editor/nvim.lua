-- A real editor's client against the server: findings appear, a name is completed, a definition is found, a rename is
-- carried out over files.
--
--   nvim --headless --clean -l … is newer than Debian's: nvim --headless --clean -c "luafile nvim.lua" FOLDER/coast.yaml
--
-- SERVER names the program; the folder holds post.yaml, which includes coast.yaml. The last line tells how it went.

local function fail(why)
  io.stdout:write('\nFAILED: ' .. why .. '\n')
  vim.cmd('cquit')
end

local function wait(what, done)
  if not vim.wait(60000, done, 20) then fail('waited in vain for ' .. what) end
end

local function check(what, is, wanted)
  if not vim.deep_equal(is, wanted) then
    fail(what .. ': ' .. vim.inspect(is) .. ' instead of ' .. vim.inspect(wanted))
  end
end

local function lines_of(buffer) return vim.api.nvim_buf_get_lines(buffer, 0, -1, false) end

local function unknown_names(buffer)
  return vim.tbl_filter(function(finding) return finding.code == 'unknown-name' end, vim.diagnostic.get(buffer))
end

local function run()
  local coast = vim.api.nvim_get_current_buf()
  local client = vim.lsp.start_client({
    name = 'hestrel', cmd = { vim.env.SERVER, 'language-server' }, root_dir = vim.fn.getcwd(),
  })
  vim.lsp.buf_attach_client(coast, client)
  wait('the server', function() return #vim.lsp.get_active_clients() == 1 and vim.lsp.buf.server_ready() end)

  -- A kit that nobody knows is typed in.
  vim.api.nvim_buf_set_lines(coast, 4, 5, false, { '    kits: [glas]' })
  wait('a finding', function() return #unknown_names(coast) == 1 end)
  local finding = unknown_names(coast)[1]
  check('the finding', { finding.lnum, finding.col, finding.end_col }, { 4, 11, 15 })

  -- It is completed.
  vim.api.nvim_win_set_cursor(0, { 5, 15 })
  local asked = vim.lsp.util.make_position_params()
  local answer = vim.lsp.buf_request_sync(coast, 'textDocument/completion', asked, 60000)
  local labels = vim.tbl_map(function(item) return item.label end, answer[client].result.items)
  check('the names offered', labels, { 'brass', 'glass' })
  local edit = answer[client].result.items[2].textEdit
  vim.lsp.util.apply_text_edits({ edit }, coast, 'utf-16')
  check('the completed line', lines_of(coast)[5], '    kits: [glass]')
  wait('the finding to go', function() return #unknown_names(coast) == 0 end)

  -- Its definition is in the other file.
  vim.api.nvim_win_set_cursor(0, { 5, 13 })
  vim.lsp.buf.definition()
  wait('the definition', function() return vim.api.nvim_buf_get_name(0):match('post%.yaml$') ~= nil end)
  check('the line of the definition', lines_of(0)[vim.api.nvim_win_get_cursor(0)[1]], '  glass: {memory: {texture: 1}}')
  local post = vim.api.nvim_get_current_buf()
  vim.lsp.buf_attach_client(post, client)

  -- It is called otherwise, in both.
  vim.lsp.buf.rename('window')
  wait('the new name', function() return lines_of(coast)[5] == '    kits: [window]' end)
  wait('the new name in the other file', function()
    return vim.tbl_contains(lines_of(post), '  window: {memory: {texture: 1}}')
  end)
  vim.lsp.stop_client(client)
  io.stdout:write('\nall is well\n')
  vim.cmd('qall!')
end

local fine, why = pcall(run)
if not fine then fail(tostring(why)) end
