UPDATE day_plans SET body = replace(replace(body, '"who":"home"', '"at_home":true'), '"who":"helped"', '"helped":true');
