# fish completion for hestrel, made from its table of options

# Names of a list from the plan on the command line.
function __hestrel_names
    for plan in (commandline -opc)
        if string match -qr '\.ya?ml$' -- $plan; and test -f $plan
            hestrel show $plan --list $argv[1] --format csv 2>/dev/null | tail -n +2 | cut -d, -f1
            return
        end
    end
end

@COMMANDS@
@CASES@
